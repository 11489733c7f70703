import { openStudio, until } from './browser.ts';
import { away } from './board.ts';
import { main } from './logic.ts';
import { release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { forgive } from './supplier.ts';

/** A maker calls the address of a routine with a sample, sees what was refused and why, and runs a call again. */
async function hooks(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  const link = await release(p);
  const hives = await away(link, 'Hives');
  const tagged = async () => (await hives.rows()).filter((r) => r.cells[hives.field('Tag code')]);
  await until('The hives come to the server.', async () => (await tagged()).length > 0);
  const [hive] = await tagged();
  const tag = String(hive!.cells[hives.field('Tag code')]);
  const weightIs = (kg: number): Promise<void> =>
    until(`It weighs ${kg}.`, async () => {
      const found = (await hives.rows()).find((r) => r.id === hive!.id);
      return found!.cells[hives.field('Weight')] === kg;
    });
  await p.pressText('Logic', 'header');
  await p.pressText('A scale sends a weight', 'nav');
  await p.press('Show its address', 'button');
  await main(p, 'A sample of what is sent');
  const writes = async (text: string): Promise<void> => {
    await (await p.find('A sample of what is sent')).focus();
    await p.page.keyboard.press('a', { commands: ['selectAll'] });
    await p.page.keyboard.type(text);
  };
  await writes(`{ "Tag": "${tag}", "Weight": "heavy" }`);
  await p.press('Call with the sample', 'button');
  await p.sees('“Weight”: “heavy” is not a number for Weight.', 'main [role=alert]');
  await writes(`{ "Tag": "${tag}", "Weight": 41.5 }`);
  await p.press('Call with the sample', 'button');
  await weightIs(41.5);
  await main(p, 'The latest calls');
  await hives.set(hive!.id, { [hives.field('Weight')]: 12 });
  await weightIs(12);
  await p.press('Run again', 'button');
  await weightIs(41.5);
  forgive(stage, /status of 422/);
}

export const tests: Test[] = [
  { name: 'a maker calls a routine as another system does, with a sample, and runs a call again', run: hooks },
];
