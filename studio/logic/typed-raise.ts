import { canRaise } from '../../core/records/raise.ts';
import { stepInShort } from './step-in-short.ts';
import { named, pathIn, recordAtHand, valueOf, type Hand, type Understood } from './typed-words.ts';

/** "raise quantity by 5", "take 2 from stock", "add 1 to visits": a number of the record at hand, or of a value at hand. */
export function raiseStep(words: string, hand: Hand): Understood | null {
  const { verb, what, amount } = readRaise(words) ?? { verb: '', what: '', amount: '' };
  if (!verb) return null;
  const own = numberAt(what, hand);
  const value = own && valueOf(amount, hand);
  // An amount that is no number and names nothing is something else.
  if (!own || !value || value.startsWith('"')) return null;
  const how = /^(?:lower|decrease|reduce|decrement|count down|subtract|take|deduct|remove)$/i.test(verb)
    ? 'lower'
    : 'raise';
  const step = hand.make.step('raise', { how, record: own.record, values: [{ field: own.field, value }] });
  return { step, said: stepInShort(step, hand.app, hand.model) };
}

const BY =
  /^(raise|increase|increment|count up|lower|decrease|reduce|decrement|count down)\s+(?:the\s+|its\s+)?(.+?)(?:\s+by\s+(.+))?$/i;
const TO = /^(add|put)\s+(.+?)\s+to\s+(?:the\s+|its\s+)?(.+)$/i;
const FROM = /^(subtract|take|deduct|remove)\s+(.+?)\s+from\s+(?:the\s+|its\s+)?(.+)$/i;
const SET = /^(?:set|change|make)\s+(?:the\s+|its\s+)?(.+?)\s+(?:to|=)\s+\1\s*([+-])\s*(.+)$/i;

/** What is to be raised or lowered, by how much: "raise quantity by 5", "take 2 from stock", "set score to score + 1". */
function readRaise(words: string): { verb: string; what: string; amount: string } | null {
  const set = SET.exec(words);
  if (set) return { verb: set[2] === '+' ? 'raise' : 'lower', what: set[1]!, amount: set[3]! };
  const by = BY.exec(words);
  if (by) return { verb: by[1]!, what: by[2]!, amount: by[3] ?? '1' };
  const other = TO.exec(words) ?? FROM.exec(words);
  return other && { verb: other[1]!, what: other[3]!, amount: other[2]! };
}

/** The number of a record that words name, whole. */
function numberAt(words: string, hand: Hand): { record: string; field: string } | null {
  const isNumber = (id: string): boolean => {
    const field = hand.model.field(id);
    return field !== undefined && canRaise(field);
  };
  const table = hand.app.tables.find((t) => t.id === hand.routine.given);
  const own =
    table &&
    named(
      words,
      table.fields.filter((f) => isNumber(f.id)),
      (f) => [f.name],
    );
  if (own && !own.rest) return { record: recordAtHand(hand), field: own.it.id };
  const found = pathIn(
    words,
    hand.paths.filter((p) => p.stored.includes('.') && isNumber(p.stored.split('.').at(-1)!)),
  );
  if (!found || found.rest) return null;
  const at = found.path.stored.lastIndexOf('.');
  return { record: found.path.stored.slice(0, at), field: found.path.stored.slice(at + 1) };
}
