/** For mutation testing: properties take half a second each, since every one of them runs hundreds of times. */
import fc from 'fast-check';

fc.configureGlobal({ interruptAfterTimeLimit: 500, markInterruptAsFailure: false });
