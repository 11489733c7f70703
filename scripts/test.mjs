/** `npm test`: everything that must hold, from types to what a person sees in the browser. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bin, installChromium, installPackages, root, run } from './setup.mjs';

installPackages();
let passed = 0;
let failed = 0;
const started = Date.now();

/** A check that passes or fails as a whole. */
function check(name, command, args) {
  console.log(`\n== ${name}`);
  if (run(command, args) === 0) passed++;
  else failed++;
}

check('types', bin('tsc'), ['--noEmit']);
check('lint', bin('oxlint'), ['--deny-warnings']);
check('folder arrows', bin('tsx'), ['scripts/arrows.ts']);
check('JSON Schema in docs is current', bin('tsx'), ['scripts/schema.ts', '--check']);

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

check('build', bin('vite'), ['build', '--logLevel', 'warn']);

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
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
