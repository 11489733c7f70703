/** `npm run trial`: builds, then tries the server and the phones hard. */
import { bin, installChromium, installPackages, run } from './setup.mjs';

installPackages();
installChromium();
if (run(bin('vite'), ['build', '--logLevel', 'warn']) !== 0) process.exit(1);
process.exit(run(bin('tsx'), ['trial/run.ts', ...process.argv.slice(2)]));
