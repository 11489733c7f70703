/** What the start, test and bench commands share: installing what is missing, and running commands. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/** Runs a command with its output shown; gives its exit code. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (done.error) throw done.error;
  return done.status ?? 1;
}

export const bin = (name) => join(root, 'node_modules/.bin', name);

/** Installs the packages when they are missing or older than the lock file. */
export function installPackages() {
  const marker = join(root, 'node_modules/.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(lock).mtimeMs - 1000) return;
  // Files laid anew are younger than what was installed from them: what counts is what they say.
  if (existsSync(marker)) {
    const packages = (file) =>
      JSON.stringify(
        Object.entries(JSON.parse(readFileSync(file, 'utf8')).packages)
          .filter(([k, v]) => k && !v.optional)
          .map(([k, v]) => [k, v.version])
          .sort(),
      );
    if (packages(marker) === packages(lock)) return;
  }
  console.log('Installing packages');
  // Not `npm ci`: a registry may lack the builds for other platforms that some packages name, and ci insists on them.
  if (run('npm', ['install', '--no-save', '--no-audit', '--no-fund']) !== 0)
    throw new Error('The packages could not be installed. Is the npm registry reached?');
}

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** Installs Debian’s Chromium when there is none and we may. */
export function installChromium() {
  const given = process.env.CHROME_PATH;
  if (given) {
    if (!existsSync(given)) throw new Error(`CHROME_PATH is ${given}, and there is nothing there.`);
    return;
  }
  if (BROWSERS.some((b) => existsSync(b))) return;
  if (process.getuid?.() !== 0)
    throw new Error('Chromium is needed for the end-to-end tests. Install it, or set CHROME_PATH.');
  console.log('Installing Chromium');
  run('apt-get', ['update', '-qq']);
  if (run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium', 'fonts-liberation']) !== 0)
    throw new Error('Chromium could not be installed.');
}
