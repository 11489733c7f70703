/** The thread that runs apps, one at a time. */
import '../kinds/given/all.ts';
import { parentPort } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { threadApi } from './thread-api.ts';
import { passErrorsOn } from './thread-errors.ts';

passErrorsOn();
// One thing that fails unforeseen must not end the app for everybody.
process.on('unhandledRejection', (reason) => console.error('Unforeseen:', reason));
expose(threadApi, nodeEndpoint(parentPort!));
