/** `npm run bench`: builds, then measures against the references. */
import { bin, installChromium, installPackages, run } from './setup.mjs';

installPackages();
installChromium();
if (run(bin('vite'), ['build', '--logLevel', 'warn']) !== 0) process.exit(1);
process.exit(run(bin('tsx'), ['bench/run.ts', ...process.argv.slice(2)]));
