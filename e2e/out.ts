import { mkdir, readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import PostalMime from 'postal-mime';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { Person } from './browser.ts';
import { main, newRoutine, typeStep } from './logic.ts';
import { choose, makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/** Presses a button in the line of the outbox with these words, and reads the file that is saved. */
async function savedFrom(p: Person, within: string, words: string, ending: string): Promise<Buffer> {
  const folder = join(within, `saved${ending}`);
  await mkdir(folder, { recursive: true });
  const session = await p.page.createCDPSession();
  await session.send('Page.setDownloadBehavior', { behavior: 'allow', downloadPath: folder });
  await p.sees(words, 'section[aria-label=Trace] li');
  await p.page.$$eval(
    'section[aria-label=Trace] li',
    (lines, w) => {
      const line = (lines as HTMLElement[]).find((li) => li.innerText.includes(w))!;
      ([...line.querySelectorAll('button')].at(-1) as HTMLElement).click();
    },
    words,
  );
  for (let i = 0; i < 100; i++) {
    await new Promise((resolve) => {
      setTimeout(resolve, 100);
    });
    const name = (await readdir(folder)).find((f) => f.endsWith(ending));
    if (name) return readFile(join(folder, name));
  }
  throw new Error(`Nothing that ends with ${ending} was saved.`);
}

/** A routine makes a PDF and a table file of records, sends them with a mail of lines, and a text message. */
async function out(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Report');
  await typeStep(p, 'pdf of boats', 'Make a PDF: Boats');
  await typeStep(p, 'csv boats', 'Make a table file: Boats');
  await typeStep(p, 'mail saying the boats of today', 'Send mail to …: “The boats of today”');
  await page.click('main [aria-label^="Mail address:"]');
  await page.waitForSelector('[cmdk-root] input');
  await page.type('[cmdk-root] input', 'ann@club.example, bo@club.example');
  await p.pressText('Use “', '[cmdk-root]');
  await p.press('A line for each record', 'button');
  await page.$$eval('main [aria-label^="Records:"]', (all) => all.at(-1)!.setAttribute('data-last', ''));
  await page.click('main [data-last]');
  await p.pressText('Boats', '[cmdk-root]');
  await page.click('main [role=textbox][aria-label="The line for each"]');
  await page.keyboard.type('- {this one.Boat}');
  await p.press('Files', 'button');
  await choose(p, 'Files', 'the PDF');
  await p.press('Try with sample', 'button');
  await main(p, 'sent to 2');
  await p.press('Do it for real', 'button');
  await main(p, 'Done for real.');

  await p.press('Open the trace', 'button');
  await p.press('Outbox');
  await p.sees('Boats.pdf');
  await p.sees('Boats.csv');
  const mail = await PostalMime.parse(
    (await savedFrom(p, stage.folder, 'The boats of today', '.eml')).toString('utf8'),
  );
  if (mail.to?.length !== 2) throw new Error(`The mail goes to ${JSON.stringify(mail.to)}.`);
  if (!mail.text?.includes('- Sandpiper 2')) throw new Error(`The mail has no line for a boat:\n${mail.text}`);
  const [file] = mail.attachments;
  if (file?.filename !== 'Boats.pdf' || file.mimeType !== 'application/pdf')
    throw new Error(`What goes with it is ${file?.filename} (${file?.mimeType}).`);
  const pdf = await getDocument({ data: new Uint8Array(file.content as ArrayBuffer), verbosity: 0 }).promise;
  const { items } = await (await pdf.getPage(1)).getTextContent();
  const words = items.map((i) => ('str' in i ? i.str : '')).join('');
  for (const wanted of ['Boats', 'Sandpiper 2', 'Length', 'skipper2@river.example'])
    if (!words.includes(wanted)) throw new Error(`“${wanted}” is not in the PDF:\n${words}`);
  const csv = (await savedFrom(p, stage.folder, 'Boats.csv', '.csv')).toString('utf8');
  if (csv.trim().split('\r\n').length !== 25) throw new Error(`The table file has not 24 boats:\n${csv}`);
}

export const tests: Test[] = [{ name: 'a PDF and a table file are made, and go out with a mail', run: out }];
