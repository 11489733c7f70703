/**
 * For mutation testing: properties take half a second each, or as many milliseconds as `PROPERTY_MS` says, since every one
 * of them runs hundreds of times.
 */
import fc from 'fast-check';

fc.configureGlobal({
  interruptAfterTimeLimit: Number(process.env['PROPERTY_MS'] ?? 500),
  markInterruptAsFailure: false,
});
