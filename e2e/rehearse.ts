import { openStudio, until, type Person } from './browser.ts';
import type { Test } from './stage.ts';

/** The phones of the room, by their place. */
const screenOf = (n: number): string => `[aria-label="Phones"] section:nth-of-type(${n}) .k-app`;
const nameOf = (p: Person, n: number): Promise<string> =>
  p.page.$eval(`[aria-label="Phones"] section:nth-of-type(${n})`, (e) => e.getAttribute('aria-label')!.slice(13));
const network = async (p: Person, name: string, now: string, next: string): Promise<void> => {
  await p.press(`Network of ${name}: ${now}`, 'button');
  await p.pressText(next, '[role=menu]');
};
const tab = async (p: Person, name: string): Promise<void> => p.pressText(name, '[aria-label="What happens"]');

const SUBJECT = 'Under the ferry steps';

const room: Test = {
  name: 'a rehearsal: two people, a mail from outside, a phone without a network, four o’clock, a phone that goes off; and nothing of it in the app',
  async run(stage) {
    const p = await openStudio(stage);
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    await p.pressText('Rehearse', 'header');
    await p.sees('days', screenOf(1));
    await p.sees('days', screenOf(2));
    const [first, second] = [await nameOf(p, 1), await nameOf(p, 2)];
    await p.pressText('Swarms', `${screenOf(1)} .k-tabs`);
    await p.pressText('Swarms', `${screenOf(2)} .k-tabs`);
    await p.sees('Report with a photo', screenOf(2));

    // A mail from outside becomes a report on the phone that has a network, and not on the other.
    await network(p, second, 'Network on', 'No network');
    await tab(p, 'Mail');
    await p.press('Write as somebody outside', 'button');
    await p.fill('Subject', SUBJECT);
    await p.fill('Words of the mail', 'A large swarm hangs there. Children pass below it.');
    await p.press('Send to the app', 'button');
    await p.sees(SUBJECT, screenOf(1));
    await p.sees('Ada Holm', '[aria-label="What happens"]');
    if (await p.page.$(`${screenOf(2)} ::-p-text(${SUBJECT})`))
      throw new Error('A phone without a network has it too.');
    await network(p, second, 'No network', 'Network on');
    await p.sees(SUBJECT, screenOf(2));

    // The trace tells it by who it was.
    await tab(p, 'Trace');
    const trace = '[aria-label="What happens"]';
    for (const said of [`${second} has no network`, 'Server took a mail of Ada Holm', `${second} received`])
      await p.sees(said, trace);

    // What was typed without a network waits, is kept when the phone goes out, and arrives when it is back.
    await network(p, first, 'Network on', 'No network');
    await p.pressText('Hives', `${screenOf(1)} .k-tabs`);
    await p.pressText('Add', screenOf(1));
    await p.sees('Queen year', screenOf(1));
    const name = (await p.page.waitForSelector(`${screenOf(1)} input`))!;
    await name.type('Rehearsed 1');
    await p.pressText('Save', screenOf(1));
    await p.sees('1 to send', '[aria-label="Phones"]');
    await p.press(`More about the phone of ${first}`, 'button');
    await p.pressText('Its battery is empty', '[role=menu]');
    await p.sees('The phone is off', '[aria-label="Phones"]');
    await p.press('Open the app again', 'button');
    await network(p, first, 'No network', 'Network on');
    await tab(p, 'Records');
    await p.sees('Hives › Rehearsed 1', trace);

    // The clock goes to what it starts next: the mail of what runs low.
    await p.pressText('What runs low', '[aria-label="Clock"]');
    await p.sees('16:00', '[aria-label="Clock"] time', 60_000);
    await tab(p, 'Mail');
    await p.sees('The app', trace);

    // What ran is pressed in the trace: its values are beside the steps of the routine. The room is as it was.
    await tab(p, 'Trace');
    await p.pressText('began What runs low', trace);
    await p.sees('Values beside the steps are from the run of');
    await p.sees('16:00:00');
    await p.pressText('Rehearse', 'header');
    await p.sees('16:00', '[aria-label="Clock"] time');

    // Begun anew all is as it was; and in the app it never was otherwise.
    await p.press('Begin anew, with the records as they are', 'button');
    await tab(p, 'Records');
    await p.sees('All records are as they were', trace);
    await p.sees('days', screenOf(1));
    await p.pressText('Data', 'header');
    await p.pressText('Swarm reports', 'nav[aria-label="Data"], nav');
    await until('The table is there.', async () => (await p.page.$('[role=grid]')) !== null);
    if (await p.page.$(`[role=grid] ::-p-text(${SUBJECT})`)) throw new Error('What was rehearsed is in the app.');
  },
};

export const tests: Test[] = [room];
