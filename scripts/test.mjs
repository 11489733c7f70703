/** `npm test`: everything that must hold, from types to what a person sees in the browser. */
import { spawn, spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bin, installChromium, installPackages, root, run } from './setup.mjs';

installPackages();
let passed = 0;
let failed = 0;
/** The checks that failed, by name: said once more at the end, where they are found. */
const failures = [];
const started = Date.now();

function count(name, holds) {
  if (holds) passed++;
  else {
    failed++;
    failures.push(name);
  }
}

/** A check that passes or fails as a whole. */
function check(name, command, args) {
  console.log(`\n== ${name}`);
  count(name, run(command, args) === 0);
}

/** The same, beside what follows: its output is shown when it is waited for. */
function checkBeside(name, command, args) {
  const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  let output = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => (output += d));
  const done = new Promise((resolve) => {
    child.on('error', (e) => resolve(String(e)));
    child.on('close', (code) => resolve(code));
  });
  return async () => {
    const code = await done;
    console.log(`\n== ${name}\n${typeof code === 'string' ? code : output}`);
    count(name, code === 0);
  };
}

const types = checkBeside('types', bin('tsc'), ['--noEmit']);
check('lint', bin('oxlint'), ['--deny-warnings']);
check('folder arrows', bin('tsx'), ['scripts/arrows.ts']);
check('JSON Schema in docs is current', bin('tsx'), ['scripts/schema.ts', '--check']);
check('build', bin('vite'), ['build', '--logLevel', 'warn']);
await types();

console.log('\n== unit tests');
const report = join(tmpdir(), `kite-unit-${process.pid}.json`);
run(bin('vitest'), ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${report}`]);
try {
  const unit = JSON.parse(readFileSync(report, 'utf8'));
  passed += unit.numPassedTests;
  failed += unit.numFailedTests + (unit.numTotalTests === 0 || (!unit.success && unit.numFailedTests === 0) ? 1 : 0);
} catch {
  failed++;
}

console.log('\n== end-to-end tests');
try {
  installChromium();
  const e2e = spawnSync(bin('tsx'), ['e2e/run.ts'], {
    cwd: root,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
    maxBuffer: 1 << 26,
  });
  process.stdout.write(e2e.stdout);
  const counts = /e2e: (\d+) passed, (\d+) failed/.exec(e2e.stdout);
  passed += Number(counts?.[1] ?? 0);
  failed += counts ? Number(counts[2]) : 1;
} catch (e) {
  console.error(e.message);
  failed++;
}

console.log(`\n${Math.round((Date.now() - started) / 1000)} s`);
for (const name of failures) console.log(`Failed: ${name}`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
