import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** Two sheets of a sailing club that share a column: boats with semicolons and decimal commas, trips with commas. */
export async function clubSheets(folder: string): Promise<string[]> {
  const names = ['Merry Tern', 'Old Otter', 'Sandpiper', 'Grey Seal', 'Little Auk', 'Far Shore'];
  const boats = ['Boat;Sail no;Length;Berth;Skipper mail'];
  for (let i = 1; i <= 24; i++)
    boats.push(`${names[i % 6]} ${i};GBR ${i};${5 + (i % 4)},${i % 9};A${i};skipper${i}@river.example`);
  const trips = ['When,Sail no,Hours,Rough,Notes'];
  for (let i = 1; i <= 120; i++)
    trips.push(
      `2026-0${1 + (i % 9)}-${String(1 + (i % 28)).padStart(2, '0')},GBR ${1 + (i % 26)},${(i % 7) + 0.5},${i % 3 ? 'no' : 'yes'},${i % 5 ? '' : 'Fresh from the west'}`,
    );
  trips.push('2026-02-01,GBR 3,2,no,,too many');
  const files = [join(folder, 'Boats.csv'), join(folder, 'trips.csv')] as const;
  await writeFile(files[0], boats.join('\n'));
  await writeFile(files[1], trips.join('\r\n'));
  return [...files];
}

/** Sheets as files of the stage's folder. */
export async function sheetFiles(folder: string, files: Record<string, readonly string[]>): Promise<string[]> {
  const paths: string[] = [];
  for (const [name, lines] of Object.entries(files)) {
    paths.push(join(folder, name));
    await writeFile(paths.at(-1)!, lines.join('\n'));
  }
  return paths;
}
