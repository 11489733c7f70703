import { helperOf } from '../app/helper-of.ts';
import type { App, Work } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import { readCell } from '../records/cells.ts';
import { checkCell } from '../records/check-cell.ts';
import { Failed, type WordsAsk } from '../routines/asks.ts';
import { keptValue, type KeptValue } from '../records/kept-value.ts';
import type { SessionPorts } from './ports.ts';

/** What is asked of a service about words or a picture. */
type Asked = WordsAsk | { do: 'describe'; picture: string };

/** What a service is given for a work, by the names of what it takes. */
function givenFor(what: Asked): Record<string, Cell> {
  switch (what.do) {
    case 'sum up':
      return { text: what.text, most: what.most };
    case 'judge':
      return {
        text: what.text,
        choices: what.choices.map((c) => (c.words ? `${c.name}: ${c.words}` : c.name)).join('\n'),
      };
    case 'draft':
      return {
        prompt: what.prompt,
        to: what.to,
        facts: what.facts.map((f) => `${f.name}: ${f.value}`).join('\n'),
        from: what.from,
      };
    case 'pull out':
      return { text: what.text, kind: what.kind, year: what.year };
    case 'describe':
      return { picture: what.picture };
  }
}

/**
 * Has a service do work with words or a picture, where the app says so; undefined where it does not. Rejects in words, also
 * where the answer is none.
 */
export async function askHelper(
  app: Pick<App, 'helpers' | 'services' | 'tables'>,
  ports: Pick<SessionPorts, 'services'>,
  what: Asked,
): Promise<KeptValue | undefined> {
  const helper = helperOf(app, what.do satisfies Work);
  if (!helper) return undefined;
  const services = await ports.services?.();
  if (!services) throw new Error('Services cannot be asked here.');
  const given = givenFor(what);
  const inputs = Object.fromEntries(
    Object.entries(helper.takes).flatMap(([name, input]) => {
      const cell = given[name];
      return cell === undefined || cell === null || cell === '' ? [] : [[input, cell]];
    }),
  );
  const answer = await services.askService({ request: helper.request, inputs }).catch((e: Error) => {
    throw new Failed(e.message, 'no network');
  });
  if (answer.said !== null)
    throw new Failed([answer.said, ...answer.notes.slice(0, 1)].join(' '), answer.failure ?? 'other');
  const gave = (name: string): Cell | Cell[] => answer.picks[helper.gives[name] ?? ''] ?? null;
  return answerOf(what, gave);
}

function answerOf(what: Asked, gave: (name: string) => Cell | Cell[]): KeptValue {
  const text = (name: string): string => {
    const value = gave(name);
    if (typeof value !== 'string' || !value.trim()) throw new Failed('The service gave no words.', 'broken');
    return value;
  };
  const sure = (): number => {
    const value = gave('sure');
    return typeof value === 'number' && value >= 0 && value <= 1 ? value : 1;
  };
  switch (what.do) {
    case 'sum up':
    case 'draft':
      return text('words');
    case 'describe':
      return { context: { words: text('words'), sure: sure() } };
    case 'judge': {
      const said = text('choice').trim().toLowerCase();
      const choice = what.choices.find((c) => c.name.trim().toLowerCase() === said);
      if (!choice)
        throw new Failed(`The service chose “${text('choice').slice(0, 80)}”, which is none of the choices.`, 'broken');
      const why = gave('why');
      return { context: { choice: choice.name, why: typeof why === 'string' ? why : '', sure: sure() } };
    }
    case 'pull out': {
      const found = gave('found');
      const all = Array.isArray(found) ? found : found === null ? [] : [found];
      return { list: all.map((cell) => keptValue(valueOf(what.kind, cell))) };
    }
  }
}

/** Of what type what is pulled out is, where it is no text. */
const TYPES: Partial<Record<string, 'date' | 'time' | 'number'>> = {
  dates: 'date',
  times: 'time',
  numbers: 'number',
  amounts: 'number',
};

/** A value that was pulled out. Throws where it is none of its kind, so that none is bent. */
function valueOf(kind: Extract<Asked, { do: 'pull out' }>['kind'], cell: Cell): ReturnType<typeof readCell> {
  const type: 'date' | 'time' | 'number' | 'text' = TYPES[kind] ?? 'text';
  const field = { id: 'f_pulled0000', name: 'What was pulled out', type };
  const plain = type === 'number' && typeof cell === 'string' && cell.trim() !== '' ? Number(cell) : cell;
  if (plain === null || (typeof plain === 'number' && !Number.isFinite(plain)) || checkCell(field, plain))
    throw new Failed(`The service gave “${String(cell).slice(0, 80)}”, which is none of the ${kind}.`, 'broken');
  return readCell(field, plain);
}
