/** `npm run mutate -- core/routines`: mutation testing of one folder, by hand. */
import { bin, installPackages, run } from './setup.mjs';

installPackages();
const folder = process.argv[2] ?? 'core/routines';
process.exit(run(bin('stryker'), ['run', 'stryker.config.mjs'], { env: { ...process.env, MUTATE: folder } }));
