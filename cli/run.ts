import { z } from 'zod';
import type { App, Routine } from '../core/app/schema.ts';
import type { Bundle } from '../core/formats/bundle.ts';
import type { Draft } from '../core/records/change.ts';
import { completed } from '../core/records/begin.ts';
import { checkCell } from '../core/records/check-cell.ts';
import { madeBytes } from '../core/formats/made/made-bytes.ts';
import { cellsAfter } from '../core/records/raise.ts';
import { Records } from '../core/records/store.ts';
import type { Ask, Ports, Question } from '../core/routines/asks.ts';
import { plainWords } from '../core/routines/plain-words.ts';
import { Machine } from '../core/routines/machine.ts';
import { driveRun, type RunTrace } from '../core/routines/run.ts';
import type { KeptValue } from '../core/records/kept-value.ts';
import { base64Of, fromBase64 } from '../core/document/base64.ts';
import { VARIABLES } from '../core/document/ids.ts';
import { Variables } from '../core/session/variables.ts';
import { tableOf } from '../core/tables/names.ts';
import { serviceAnswer } from '../core/services/answer.ts';
import { requestOf } from '../core/services/requests-of.ts';
import { goodSample, replyOf } from '../core/services/samples.ts';
import { keptAnswer } from '../core/session/answers.ts';
import { stepKinds } from '../core/routines/kinds.ts';

/** What a run is given: a record, variables, a clock, and answers to what it asks, in the order it asks. */
const GivenSchema = z.strictObject({
  /** The record the routine is given, by its id or its title. */
  record: z.string().optional(),
  /** Values of variables, by name. */
  variables: z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()])).optional(),
  /** What the clock says, ISO 8601; it stands still but for what the routine waits. */
  now: z.iso.datetime({ offset: true, local: true }).optional(),
  /** Answers to questions: true or false, the words of a choice or title of a record, what is typed; null for none. */
  answers: z.array(z.union([z.string(), z.boolean(), z.number(), z.null()])).optional(),
  /** What the device gives, by what it is asked: `{"scan": "4711", "place": {"latitude": 1, "longitude": 2}}`. */
  device: z.record(z.string(), z.union([z.string(), z.record(z.string(), z.number())])).optional(),
});
export type Given = z.infer<typeof GivenSchema>;

export interface RunResult {
  routine: string;
  given: string | null;
  error: string | null;
  trace: { said: string; gave: string; ms: number; error?: string; turns: number[] }[];
  changes: { table: string; record: string; do: Draft['do']; cells?: Record<string, unknown> }[];
  /** What the phone would have shown and done, in order. */
  phone: object[];
  outbox: Omit<Extract<Ask, { ask: 'send' }>, 'ask' | 'id'>[];
  variables: Record<string, unknown>;
}

/** Reads what a run is given. Throws in words. */
export function readGiven(json: unknown): Given {
  const read = GivenSchema.safeParse(json);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new Error(`What is given does not fit: ${issue!.path.join('.') || 'it'}: ${issue!.message}`);
}

/** Runs a routine of an app on its records, without a phone and without changing the file. */
export async function runRoutine({ app, records: loaded }: Bundle, name: string, given: Given): Promise<RunResult> {
  const routine = routineOf(app, name);
  let now = given.now ? Date.parse(given.now) : Date.now();
  const records = new Records(app, () => now);
  for (const t of app.tables)
    records.load(
      t.id,
      loaded.filter((r) => r.table === t.id),
    );
  const variables = new Variables(app, records, {}, () => undefined);
  for (const [of, value] of Object.entries(given.variables ?? {})) {
    const v = app.variables?.find((x) => x.name.toLowerCase() === of.toLowerCase());
    const wrong = v ? variables.set(v.id, value) : `There is no variable “${of}”.`;
    if (wrong) throw new Error(wrong);
  }
  const record = recordOf(records, routine, given.record);
  const result: RunResult = {
    routine: routine.name,
    given: record && routine.given ? (records.row(routine.given, record)?.title() ?? null) : null,
    error: null,
    trace: [],
    changes: [],
    phone: [],
    outbox: [],
    variables: {},
  };
  const answers = [...(given.answers ?? [])];
  const show = ({ ask: does, ...rest }: Ask): void => void result.phone.push({ do: does, ...rest });
  const ports: Ports = {
    write(ask) {
      for (const d of completed(records, ask.drafts)) {
        const table = tableOf(app, d.table);
        const cells = cellsAfter(records, d);
        if (d.do !== 'remove')
          for (const [id, cell] of Object.entries(cells)) {
            const field = table?.fields.find((f) => f.id === id);
            const wrong = field && checkCell(field, cell);
            if (wrong) throw new Error(wrong);
          }
        result.changes.push({
          table: table?.name ?? d.table,
          record: d.record,
          do: d.do,
          ...(d.do !== 'remove' && {
            cells: Object.fromEntries(
              Object.entries(cells).map(([id, c]) => [table?.fields.find((f) => f.id === id)?.name ?? id, c]),
            ),
          }),
        });
        if (d.do !== 'remove') records.set(d.table, d.record, { ...records.row(d.table, d.record)?.cells, ...cells });
        else records.remove(d.table, d.record);
      }
    },
    // From the command line nothing is asked of anybody.
    'sign out': () => undefined,
    service: async ({ ask: _service, ...asked }) => {
      const request = requestOf(app, asked.request)?.request;
      const sample = request && goodSample(request);
      if (!sample) throw new Error('Services are not asked from the command line, and no sample of an answer is kept.');
      const answer = await serviceAnswer(app, asked, 'test', {
        send: async () => replyOf(sample),
        now: () => now,
        toLocal: (instant) => instant,
      });
      for (const [table, rows] of Object.entries(answer.rows))
        for (const { id, cells } of rows) records.set(table, id, { ...cells });
      return keptAnswer(app, asked.request, answer);
    },
    send: ({ ask: _send, id: _id, ...message }) => void result.outbox.push(message),
    variable(ask) {
      const wrong = variables.set(ask.variable, ask.cell);
      if (wrong) throw new Error(wrong);
    },
    wait(ask) {
      now = Math.max(now, ask.until);
    },
    person() {
      throw new Error('From the command line nobody is asked elsewhere.');
    },
    question({ question }) {
      show({ ask: 'question', question });
      if (answers.length === 0) throw new Error('No answer was given for this question.');
      return answerTo(question, answers.shift()!);
    },
    async device(ask) {
      show(ask);
      if (ask.what.do === 'make') {
        const { bytes, type } = await madeBytes(ask.what.file, (address) => Promise.resolve(contentOf(app, address)));
        return `data:${type};name=${encodeURIComponent(ask.what.file.name)};base64,${base64Of(bytes)}`;
      }
      if (!['picture', 'scan', 'place', 'record', 'describe', 'caption'].includes(ask.what.do)) return undefined;
      const gave = given.device?.[ask.what.do];
      if (gave === undefined) throw new Error(`The device gave no ${ask.what.do}.`);
      return typeof gave === 'string' ? gave : { context: gave };
    },
    open: show,
    back: show,
    message: show,
    timer: show,
    words: ({ what }) => plainWords(what),
    element: show,
    refresh: show,
    history: show,
  };
  let made = 0;
  const machine = new Machine(app, records, stepKinds, {
    now: () => now,
    newId: () => `r_new${String(++made).padStart(8, '0')}`,
  });
  const begun: RunTrace = { routine: routine.id, name: routine.name, given: result.given ?? '', steps: [], ms: 0 };
  const ran = await driveRun(machine, routine, machine.begin(routine, record), begun, ports);
  result.error = ran.error ?? null;
  result.trace = ran.steps.map(({ said, gave, ms, turns, error }) => ({
    said,
    gave,
    ms: Math.round(ms * 1000) / 1000,
    turns,
    ...(error !== undefined && { error }),
  }));
  result.variables = variablesNow(app, records);
  return result;
}

function routineOf(app: App, name: string): Routine {
  const found =
    app.routines.find((r) => r.name === name) ?? app.routines.find((r) => r.name.toLowerCase() === name.toLowerCase());
  if (!found)
    throw new Error(`There is no routine “${name}”. Routines: ${app.routines.map((r) => r.name).join(', ')}.`);
  return found;
}

/** The record that is given, by id or title. Two of the same title are not told apart. */
function recordOf(records: Records, routine: Routine, named: string | undefined): string | null {
  if (!routine.given || named === undefined) return null;
  const byId = records.row(routine.given, named);
  if (byId) return byId.id;
  const found = records.rows(routine.given).filter((r) => r.title() === named);
  if (found.length === 1) return found[0]!.id;
  throw new Error(
    found.length === 0
      ? `There is no record “${named}”.`
      : `There are ${found.length} records “${named}”; name one by its id.`,
  );
}

function answerTo(question: Question, given: string | boolean | number | null): KeptValue {
  if (given === null) throw new Error('Nothing was answered.');
  if (question.wants !== 'a choice') return question.wants === 'a value' ? String(given) : given;
  const chosen = question.choices.find((c) => c.label === String(given));
  if (!chosen) throw new Error(`“${String(given)}” is none of: ${question.choices.map((c) => c.label).join(', ')}.`);
  return chosen.value;
}

/** The content of a picture that stands in the app or in an address itself. */
function contentOf(app: App, address: string): { bytes: Uint8Array; type: string } {
  const own = address.startsWith('file:') ? app.files.find((f) => f.id === address.slice(5)) : undefined;
  const [, type, data] = /^data:([^;,]*)[^,]*;base64,(.*)$/s.exec(address) ?? [];
  if (own) return { bytes: fromBase64(own.data), type: own.type };
  if (data === undefined) throw new Error('The picture is not in the app, so it is not here.');
  return { bytes: fromBase64(data), type: type ?? '' };
}

function variablesNow(app: App, records: Records): Record<string, unknown> {
  const row = records.rows(VARIABLES)[0];
  return Object.fromEntries((app.variables ?? []).map((v) => [v.name, row?.cells[v.id] ?? null]));
}
