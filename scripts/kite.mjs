/** `npm run -s kite -- …`: Mellow Kite from the command line, in built code. */
import { pathToFileURL } from 'node:url';
import { built } from './built.mjs';
import { installPackages } from './setup.mjs';

installPackages();
await import(pathToFileURL(await built('cli/kite.ts')).href);
