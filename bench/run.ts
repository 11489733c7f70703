/** `npm run bench`: speed as ratios against a named reference, measured side by side in one run. */
import '../kinds/given/all.ts';
import { accessBench } from './access.ts';
import { formulaBench } from './formulas.ts';
import { guidedBench } from './guided.ts';
import { hostBench } from './host.ts';
import { importBench } from './import.ts';
import { recordsBench } from './records.ts';
import { drawingBench } from './drawing.ts';
import { listsBench } from './lists.ts';
import { rehearsalBench } from './rehearsal.ts';
import { runsBench } from './runs.ts';
import { routinesBench } from './routines.ts';
import { phoneListsBench } from './phone-lists.ts';
import { screensBench } from './screens.ts';
import { gridBench } from './grid.ts';
import { servicesBench } from './services.ts';
import { firstScreenBench } from './first-screen.ts';

const only = process.argv[2];
for (const [name, bench] of Object.entries({
  formulas: formulaBench,
  records: recordsBench,
  guided: guidedBench,
  drawing: drawingBench,
  lists: listsBench,
  routines: routinesBench,
  import: importBench,
  host: hostBench,
  runs: runsBench,
  rehearsal: rehearsalBench,
  access: accessBench,
  screens: screensBench,
  'phone-lists': phoneListsBench,
  'first-screen': firstScreenBench,
  grid: gridBench,
  services: servicesBench,
})) {
  if (only && only !== name) continue;
  console.log(`\n${name}`);
  await bench();
}
