import type { Condition } from '../../../core/document/pieces.ts';
import type { ConditionOp } from '../../../core/records/conditions.ts';
import type { Field, Table } from '../../../core/tables/schema.ts';
import { bare, same, tableAt, type Hand, type Told } from './hand.ts';
import { adjectiveOf, mine } from './records.ts';
import { figureIn, fieldIn, pathTo, sumIn, thingCalled, valueIn } from './values.ts';

/** What is said between two values, the longest first. What follows may be a value; the empty ones need none. */
const COMPARED: [ConditionOp, RegExp][] = [
  ['is filled', /^(.+?)\s+(?:is|are)\s+(?:filled(?: in)?|there|set)$/i],
  ['is filled', /^(.+?)\s+is not\s+(?:empty|missing)$/i],
  ['is empty', /^(.+?)\s+(?:is|are)\s+(?:empty|missing|nothing|not set|not filled(?: in)?)$/i],
  ['at least', /^(.+?)\s*(?:>=|≥|\b(?:(?:is|are)\s+)?at least\b)\s*(.+)$/i],
  ['at most', /^(.+?)\s*(?:<=|≤|\b(?:(?:is|are)\s+)?at most\b)\s*(.+)$/i],
  [
    'over',
    /^(.+?)\s*(?:>|\b(?:(?:is|are)\s+)?(?:over|above|more than|greater than|bigger than|higher than|after)\b)\s*(.+)$/i,
  ],
  [
    'under',
    /^(.+?)\s*(?:<|\b(?:(?:is|are)\s+)?(?:under|below|less than|fewer than|smaller than|lower than|before)\b)\s*(.+)$/i,
  ],
  ['is not', /^(.+?)\s*(?:!=|≠|\b(?:is not|are not|isn't|isn’t|aren't|aren’t)\b)\s*(.+)$/i],
  ['contains', /^(.+?)\s+contains?\s+(.+)$/i],
  ['is', /^(.+?)\s*(?:=|\b(?:is|are|equals)\b)\s*(.+)$/i],
];

/**
 * The conditions that words mean, all of them accounted for; null when they cannot be told. With a table, its records
 * are spoken of (“with level beginner”, “that are done”); without, what is at hand.
 */
export function conditionsIn(words: string, hand: Hand, table?: Table): Told | null {
  const text = words.trim();
  const one = conditionIn(text, hand, table);
  if (one) return { match: 'all', conditions: [one] };
  for (const [word, match] of [
    ['or', 'any'],
    ['and', 'all'],
  ] as const) {
    const parts = text.split(new RegExp(`\\s+${word}\\s+`, 'i'));
    if (parts.length < 2) continue;
    const told = parts.map((p) => conditionIn(p, hand, table));
    if (told.every((c) => c !== null)) return { match, conditions: told as Condition[] };
  }
  return null;
}

function conditionIn(text: string, hand: Hand, table: Table | undefined): Condition | null {
  const state = stateIn(text, hand, table);
  if (state) return state;
  for (const [op, pattern] of COMPARED) {
    const m = pattern.exec(text);
    if (!m) continue;
    const left = leftIn(m[1]!, hand, table);
    if (!left) continue;
    if (m[2] === undefined) return { left: left.stored, op, right: '' };
    const right = rightIn(m[2], hand, left.field, table);
    if (right !== null) return { left: left.stored, op, right };
  }
  // “with level beginner”, “quantity 0”: a field and its value.
  if (!table) return null;
  for (const field of table.fields) {
    const name = field.name.toLowerCase();
    if (!text.toLowerCase().startsWith(`${name} `)) continue;
    const right = rightIn(text.slice(name.length), hand, field, table);
    if (right !== null) return { left: field.id, op: 'is', right };
  }
  return null;
}

/** “it is done”, “not done”, “retired”, “this task is mine”: one state of the record spoken of. */
function stateIn(text: string, hand: Hand, table: Table | undefined): Condition | null {
  const own = table ?? (hand.it && tableAt(hand, hand.it.table));
  if (!own) return null;
  const m = /^(?:(?:(?:this|the)\s+(\S+)(?=\s+(?:is|are)\s)|it|this|they|these)\s+)?(?:(?:is|are)\s+)?(.+)$/i.exec(
    text,
  );
  const subject = m?.[1];
  if (!m || (subject && !same(subject, own.one))) return null;
  const said = bare(m[2]!);
  const found = same(said, 'mine') || same(said, 'my own') ? mine(own, hand) : adjectiveOf(said, own, hand);
  if (!found || table) return found;
  const field = own.fields.find((f) => f.id === found.left)!;
  return { ...found, left: pathTo({ of: hand.it!, field }, hand) };
}

function leftIn(words: string, hand: Hand, table: Table | undefined): { stored: string; field?: Field } | null {
  const text = words.trim();
  if (table) {
    const own = bare(text.replace(/^(?:its|their)\s+/i, ''));
    const field = table.fields.find((f) => same(f.name, own));
    return field ? { stored: field.id, field } : null;
  }
  const field = fieldIn(text, hand);
  if (field && !field.of.several) return { stored: pathTo(field, hand), field: field.field };
  const thing = thingCalled(text, hand);
  if (thing) return { stored: thing.id };
  const counted = /^(?:the )?(?:count|number) of\s+(.+)$/i.exec(text);
  const stored = counted ? figureIn('count', counted[1]!, hand) : sumIn(text, hand);
  return stored ? { stored } : null;
}

function rightIn(words: string, hand: Hand, field: Field | undefined, table: Table | undefined): string | null {
  const text = words.trim();
  if (/^(?:me|mine|myself)$/i.test(text) && (field?.type === 'link' || field?.type === 'person')) {
    hand.said.set('person()', 'the person using the app');
    return 'person()';
  }
  const own = table?.fields.find((f) => same(f.name, bare(text)) && f.id !== field?.id);
  return own ? own.id : valueIn(text, hand, field);
}
