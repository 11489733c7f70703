/** `npm start`: installs, builds and serves the studio. What follows -- goes to the server. */
import { spawn } from 'node:child_process';
import { bin, installPackages, root, run } from './setup.mjs';

try {
  installPackages();
  console.log('Building');
  if (run(bin('vite'), ['build', '--logLevel', 'warn']) !== 0) throw new Error('The build failed.');
} catch (e) {
  console.error(e.message);
  process.exit(1);
}
const server = spawn(bin('tsx'), ['server/main.ts', ...process.argv.slice(2)], { cwd: root, stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
