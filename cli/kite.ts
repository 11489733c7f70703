import '../kinds/given/all.ts';
import { readFile, writeFile } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { readBundle, writeBundle } from '../core/formats/bundle.ts';
import { makeApp } from '../core/formats/make-app.ts';
import { tidyName } from '../core/formats/sheet.ts';
import { bring } from '../core/formats/bring.ts';
import { startsWith } from '../core/formats/format.ts';
import { exportTable } from '../core/formats/exported.ts';
import { writable } from '../core/formats/formats.ts';
import { evaluate } from '../core/formula/evaluate.ts';
import { fieldKind } from '../core/fields/kinds.ts';
import { preflight, stops } from '../core/preflight/preflight.ts';
import { junitOf, rehearse } from './rehearse.ts';
import { readGiven, runRoutine } from './run.ts';
import { runsIn } from './runs.ts';
import { Records } from '../core/records/store.ts';

const USAGE = `kite: Mellow Kite from the command line

  import FILE... --out app.json               make an app of CSV, XLSX, JSON and ZIP files
  formula 'EXPRESSION' [--with context.json]  work out one formula
  formula --lines cases.jsonl                 work out one formula a line
  export app.json --table NAME --as csv|xlsx|json --to FILE   (- is standard output)
  run app.json 'ROUTINE' [--given given.json] run a routine: its trace, what it changed, its outbox
  runs data/ADDRESS                           what the server runs, holds and has run of a released app
  rehearse app.json ['SCENE'...] [--junit FILE] play its scenes; exit code 1 when one fails; JUnit XML to a file
  check app.json                              what is unfinished or broken; exit code 1 when it stops a release

Answers are JSON on standard output; errors go to standard error with exit code 2.`;

/** A mistake in how the command was called, or in what it was given. */
class CommandError extends Error {}

async function importFiles(files: string[], out: string | undefined): Promise<unknown> {
  if (files.length === 0) throw new CommandError('import needs at least one CSV, XLSX, JSON or ZIP file.');
  const brought = await bring(
    await Promise.all(files.map(async (f) => ({ name: basename(f), bytes: new Uint8Array(await readFile(f)) }))),
  );
  const { drafts, data, links } = brought;
  const made = makeApp(tidyName(basename(files[0]!).replace(/\.[^.]*$/, '')), drafts, data, links);
  if (out) await writeFile(out, writeBundle({ ...made, ownerKey: null, address: null, files: {} }));
  const column = (end: { table: number; column: number }): { table: string; field: string } => ({
    table: drafts[end.table]!.name,
    field: drafts[end.table]!.columns.filter((c) => !c.skip)[end.column]!.name,
  });
  return {
    app: made.app.name,
    ...(out && { out }),
    tables: drafts.map((d, i) => ({
      name: made.app.tables[i]!.name,
      fields: d.columns.map((c) => ({
        name: c.name,
        type: fieldKind(c.type).name,
        ...(c.unit && { unit: c.unit.text }),
        ...(c.skip && { leftOut: true }),
        ...((c.ambiguous || c.ambiguousDecimal) && { ambiguous: true }),
      })),
      records: data[i]!.rows.length,
      rejected: data[i]!.rejected,
      misfits: data[i]!.misfits,
      odd: d.sheet.odd ?? [],
      nothing: data[i]!.nothing,
      notes: d.notes,
    })),
    links: links.map((l) => ({ from: column(l.from), to: column(l.to), found: l.found, of: l.of })),
  };
}

async function formulaLines(file: string): Promise<void> {
  let number = 0;
  for await (const line of createInterface({
    input: file === '-' ? process.stdin : createReadStream(file),
    crlfDelay: Infinity,
  })) {
    number++;
    if (!line.trim()) continue;
    let item: { formula?: unknown; with?: unknown };
    try {
      item = JSON.parse(line) as typeof item;
    } catch {
      throw new CommandError(`Line ${number} of ${file} is not JSON.`);
    }
    if (typeof item.formula !== 'string') throw new CommandError(`Line ${number} of ${file} has no "formula".`);
    process.stdout.write(`${JSON.stringify(evaluate(item.formula, item.with))}\n`);
  }
}

async function json(file: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(file, 'utf8'));
  } catch (e) {
    throw e instanceof SyntaxError ? new CommandError(`${file} is not JSON.`) : e;
  }
}

async function exportApp(file: string, table: string | undefined, as: string | undefined, to: string): Promise<void> {
  const bundle = readBundle(await readFile(file, 'utf8'), basename(file));
  const found =
    bundle.app.tables.find((t) => t.name === table) ??
    bundle.app.tables.find((t) => t.name.toLowerCase() === table?.toLowerCase());
  if (!found)
    throw new CommandError(
      `There is no table “${table ?? ''}”. Tables: ${bundle.app.tables.map((t) => t.name).join(', ')}.`,
    );
  const format = writable().find((f) => f.id === as);
  if (!format)
    throw new CommandError(
      `--as takes ${writable()
        .map((f) => f.id)
        .join(', ')}.`,
    );
  const records = new Records(bundle.app);
  for (const t of bundle.app.tables)
    records.load(
      t.id,
      bundle.records.filter((r) => r.table === t.id),
    );
  const bytes = await format.write(exportTable(records, found.id));
  // The mark that tells spreadsheet programs of UTF-8 is in the way of other programs, which read what is piped.
  if (to === '-') process.stdout.write(bytes.subarray(startsWith(bytes, 0xef, 0xbb, 0xbf) ? 3 : 0));
  else await writeFile(to, bytes);
}

async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      given: { type: 'string' },
      with: { type: 'string' },
      lines: { type: 'string' },
      table: { type: 'string' },
      as: { type: 'string' },
      to: { type: 'string' },
      junit: { type: 'string' },
      help: { type: 'boolean' },
    },
  });
  const [command, ...rest] = positionals;
  if (values.help || !command) {
    process.stdout.write(`${USAGE}\n`);
    return;
  }
  const print = (answer: unknown): void => {
    process.stdout.write(`${JSON.stringify(answer, null, 2)}\n`);
  };
  switch (command) {
    case 'import':
      return print(await importFiles(rest, values.out));
    case 'formula':
      if (values.lines) return formulaLines(values.lines);
      if (rest.length !== 1) throw new CommandError('formula needs one expression in quotes, or --lines FILE.');
      return print(evaluate(rest[0]!, values.with ? await json(values.with) : {}));
    case 'check': {
      if (rest.length !== 1) throw new CommandError('check needs one app file.');
      const notes = preflight(readBundle(await readFile(rest[0]!, 'utf8'), basename(rest[0]!)).app);
      if (stops(notes)) process.exitCode = 1;
      return print(notes);
    }
    case 'run': {
      const [file, name] = rest;
      if (!file || !name || rest.length !== 2) throw new CommandError("run needs an app file and a routine's name.");
      const given = readGiven(values.given ? await json(values.given) : {});
      const ran = await runRoutine(readBundle(await readFile(file, 'utf8'), basename(file)), name, given);
      if (ran.error !== null) process.exitCode = 1;
      return print(ran);
    }
    case 'rehearse': {
      const [file, ...names] = rest;
      if (!file) throw new CommandError('rehearse needs an app file.');
      const bundle = readBundle(await readFile(file, 'utf8'), basename(file));
      if (!bundle.app.scenes?.length) throw new CommandError(`${bundle.app.name} has no scenes.`);
      const played = await rehearse(bundle, names);
      if (values.junit) {
        const xml = junitOf(bundle.app.name, played);
        if (values.junit === '-') {
          process.stdout.write(xml);
          if (played.some((p) => !p.passed)) process.exitCode = 1;
          return;
        }
        await writeFile(values.junit, xml);
      }
      if (played.some((p) => !p.passed)) process.exitCode = 1;
      return print(played);
    }
    case 'runs': {
      if (rest.length !== 1) throw new CommandError('runs needs the folder of a released app, such as data/bees.');
      return print(await runsIn(rest[0]!));
    }
    case 'export':
      if (rest.length !== 1) throw new CommandError('export needs one app file.');
      return exportApp(rest[0]!, values.table, values.as, values.to ?? '-');
    default:
      throw new CommandError(`There is no command “${command}”.\n\n${USAGE}`);
  }
}

main().catch((e: NodeJS.ErrnoException) => {
  const message = e.code === 'ENOENT' ? `There is no file ${e.path}.` : e.message;
  process.stderr.write(`kite: ${message}\n`);
  process.exitCode = 2;
});
