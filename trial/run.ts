/** `npm run trial`: what is done to the server by those who mean it no good, and by bad luck. A quarter of an hour. */
import '../kinds/given/all.ts';
import { devices } from './devices.ts';
import { documents } from './documents.ts';
import { fullDisk } from './disk.ts';
import { formulas } from './formulas.ts';
import { greedy } from './greedy.ts';
import { hoards } from './hoards.ts';
import { kills } from './kills.ts';
import { moves } from './moves.ts';
import { notices } from './notices.ts';
import { phones } from './phones.ts';
import { photos } from './photos.ts';
import { quotas } from './quotas.ts';
import { removals } from './removals.ts';
import { requests } from './requests.ts';
import type { Findings } from './server.ts';
import { runs } from './runs.ts';
import { streams } from './streams.ts';

const TRIALS: Record<string, () => Promise<Findings>> = {
  'kill -9 under load': kills,
  'kill -9 while routines run': runs,
  'a full disk': fullDisk,
  'requests changed by chance': requests,
  'hostile documents': documents,
  'hostile formulas': formulas,
  'apps that want all the time or memory': greedy,
  'streams that do not read': streams,
  'apps removed while they are used': removals,
  'strangers who hoard': hoards,
  'thousands of notices': notices,
  'more files than may be kept': quotas,
  'tabs, ways and stores of browsers': devices,
  'phones with something unsendable': phones,
  'twenty phones that move goods': moves,
  '1,400 photos': photos,
};

const only = process.argv[2];
let failed = 0;
for (const [name, trial] of Object.entries(TRIALS)) {
  if (only && !name.includes(only)) continue;
  const started = performance.now();
  const { figures, wrong } = await trial();
  const seconds = ((performance.now() - started) / 1000).toFixed(1);
  console.log(`${wrong.length ? 'FAIL' : '  ok'}  ${name} (${seconds} s)`);
  for (const [what, figure] of Object.entries(figures)) console.log(`        ${what}: ${figure}`);
  for (const w of wrong.slice(0, 10)) console.log(`        WRONG: ${w}`);
  if (wrong.length) failed++;
}
console.log(failed ? `${failed} trials found something wrong` : 'nothing was lost, nothing ended');
process.exit(failed ? 1 : 0);
