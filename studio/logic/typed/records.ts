import { ownerField, peopleTable } from '../../../core/app/people.ts';
import { allId } from '../../../core/document/ids.ts';
import type { Condition, Query } from '../../../core/document/pieces.ts';
import { allOf } from '../../../core/document/queries.ts';
import type { Member } from '../../../core/formula/scope.ts';
import { whereWords } from '../../../core/records/conditions.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';
import type { Table } from '../../../core/tables/schema.ts';
import { chipLabel } from '../../chips/paths.ts';
import { bare, forms, isYesNo, personAt, same, tableAt, type Hand, type Named } from './hand.ts';

/** The table that a noun names, as one or as several; the longest name counts. */
export function tableCalled(noun: string, hand: Hand): { table: Table; plural: boolean } | null {
  const low = noun.trim().toLowerCase();
  for (const table of hand.app.tables) {
    if (same(table.name, low)) return { table, plural: !same(table.one, table.name) };
    if (same(table.one, low)) return { table, plural: false };
  }
  for (const table of hand.app.tables) if (forms(table.name, table.one).includes(low)) return { table, plural: true };
  return null;
}

const ALL = /^(all|every|each|any)\s+(?:of\s+)?(?:the\s+)?(?=\S)/i;
const EVERYBODY = /^(?:everyone|everybody|all people|all of them)(?:\s+in\s+(?:the\s+)?(.+))?$/i;
const ME = /^(?:me|myself|the person|the person using the app|the user|this person)$/i;

/**
 * The records that a phrase names, all its words accounted for: “it”, “the keeper”, “all retired hives”, “my tasks”,
 * “visits of this hive”, “goods where quantity is under 5”. With `bareTable`, the name of a table alone is all of it.
 */
export function recordsIn(phrase: string, hand: Hand, bareTable = false): Named | null {
  const words = phrase.trim();
  const low = words.toLowerCase();
  if (ME.test(low)) return personAt(hand);
  const everybody = EVERYBODY.exec(low);
  if (everybody) {
    const table = everybody[1] ? tableCalled(everybody[1], hand)?.table : peopleTable(hand.app);
    return table ? listOf(table, [], hand) : null;
  }
  if (/^(?:it|this|this one|this record)?$/.test(low)) return hand.it;
  const every = ALL.exec(words);
  const rest = every ? words.slice(every[0].length) : words;
  const my = /^(?:my|mine|my own)\s+(?=\S)/i.exec(rest);
  if (my) return ownOf(rest.slice(my[0].length), hand);
  const own = every ? null : thisOne(rest, hand);
  if (own) return own;
  return conditioned(rest, hand, Boolean(every) || bareTable) ?? alongPath(rest, hand, Boolean(every));
}

/** “this hive”, “the hive”, “hive”: the record at hand, or one that a loop or a step gave. */
function thisOne(words: string, hand: Hand): Named | null {
  const name = /^(?:this|the)\s+(.+)$/i.exec(words)?.[1] ?? words;
  for (const thing of [...hand.things].reverse()) {
    if (thing.type.k !== 'record') continue;
    if (hand.it?.stored === thing.id && same(name, tableAt(hand, hand.it.table).one)) return hand.it;
    if (same(thing.name, words) || same(thing.name, name) || same(thing.name, `this ${name}`))
      return { stored: thing.id, table: thing.type.table, several: false, said: thing.name };
  }
  // “keeper” for the one result that is called “keeper who takes swarms”.
  const begins = hand.things.filter(
    (t) => t.type.k === 'record' && t.name.toLowerCase().startsWith(`${name.toLowerCase()} `),
  );
  const [only] = begins;
  if (begins.length === 1 && only!.type.k === 'record')
    return { stored: only!.id, table: only!.type.table, several: false, said: only!.name };
  return null;
}

/** All records of a table that fit some conditions, as a formula and as a query. */
export function listOf(
  table: Table,
  conditions: readonly Condition[],
  hand: Hand,
  match: 'all' | 'any' = 'all',
): Named {
  const query: Query = { ...allOf(table.id), where: { match, conditions: [...conditions] } };
  const side = (c: Condition): string => {
    if (c.op === 'is empty') return `${c.left} = null`;
    if (c.op === 'is filled') return `${c.left} != null`;
    if (c.op === 'holds') return c.left;
    if (c.op === 'contains') return `contains(${c.left}, ${c.right})`;
    return `${c.left} ${FEEL_SIGN[c.op]} ${c.right}`;
  };
  const inner = conditions.map(side).join(match === 'all' ? ' and ' : ' or ');
  const stored = inner ? `${allId(table.id)}[${inner}]` : allId(table.id);
  const where = whereWords(query.where, (f) => hand.said.get(f) ?? chipLabel(hand.model, f).label);
  const said = `all ${table.name}${inner ? ` where ${where}` : ''}`;
  hand.said.set(stored, said);
  return { stored, table: table.id, several: true, said, query };
}
const FEEL_SIGN = { is: '=', 'is not': '!=', over: '>', under: '<', 'at least': '>=', 'at most': '<=' } as const;

/** The condition that a record of a table is the own of the person using the app; null where none can be its owner. */
export function mine(table: Table, hand: Hand): Condition | null {
  const owner = ownerField(hand.app, table);
  if (!owner) return null;
  hand.said.set('person()', 'the person using the app');
  return { left: owner.id, op: 'is', right: 'person()' };
}

/** “my tasks”: what the person is linked to, or what has the person as its owner. */
function ownOf(noun: string, hand: Hand): Named | null {
  const person = personAt(hand);
  const member = person && memberCalled(noun, person.table, hand);
  const isOwnField = member && hand.model.field(member.id) !== undefined;
  if (isOwnField) return along(person, member, hand);
  for (const { table, adjective } of nouns(noun, hand)) {
    const own = mine(table, hand);
    if (own) return listOf(table, [...adjective, own], hand);
  }
  return null;
}

/** The ways a noun can be read: a table, and an adjective before it that is a choice or a yes of one of its fields. */
function nouns(noun: string, hand: Hand): { table: Table; adjective: Condition[]; plural: boolean }[] {
  const whole = tableCalled(noun, hand);
  if (whole) return [{ ...whole, adjective: [] }];
  const cut = noun.trim().lastIndexOf(' ');
  if (cut < 0) return [];
  const found = tableCalled(noun.slice(cut + 1), hand);
  const adjective = found && adjectiveOf(noun.slice(0, cut).trim(), found.table, hand);
  return adjective ? [{ ...found, adjective: [adjective] }] : [];
}

/**
 * “retired” of a table with a choice Retired; “done” of one with a yes or no Done. With what is at hand, also one that is
 * worked out, which can be asked and not set.
 */
export function adjectiveOf(word: string, table: Table, hand?: Hand): Condition | null {
  const no = /^not\s+/i.exec(word);
  const plain = no ? word.slice(no[0].length) : word;
  for (const f of table.fields) {
    const choice = f.choices?.find((c) => same(c.name, plain));
    if (choice && f.type === 'choice')
      return { left: f.id, op: no ? 'is not' : 'is', right: JSON.stringify(choice.name) };
    if (same(f.name, plain) && (hand ? isYesNo(f, hand) : f.type === 'yesno'))
      return { left: f.id, op: 'is', right: no ? 'false' : 'true' };
  }
  return null;
}

/** “retired hives”, “goods with quantity 0”, “tasks that are done”, “moves where when is before today”. */
function conditioned(words: string, hand: Hand, all: boolean): Named | null {
  const cut = /^(.+?)\s+(with|where|that|which|whose|who)\s+(.+)$/i.exec(words);
  const [head, tail] = cut ? [cut[1]!, cut[3]!] : [words, ''];
  for (const { table, adjective, plural } of nouns(bare(head), hand)) {
    if (!tail && !all && !(plural && adjective.length)) continue;
    const told = tail ? hand.conditions(tail, hand, table) : { match: 'all' as const, conditions: [] };
    if (!told || (told.match === 'any' && adjective.length)) continue;
    return listOf(table, [...adjective, ...told.conditions], hand, told.match);
  }
  return null;
}

/** The member of a table with a name: a field, a link, or the records that are linked to it. */
export function memberCalled(noun: string, table: string, hand: Hand): Member | null {
  const low = noun.trim().toLowerCase();
  const members = hand.model.members(table);
  return (
    members.find((m) => same(m.name, low)) ??
    members.find((m) => forms(m.name).includes(low)) ??
    members.find((m) => {
      const of = m.type.k === 'list' && m.type.of.k === 'record' ? m.type.of.table : null;
      return of !== null && tableCalled(low, hand)?.table.id === of;
    }) ??
    null
  );
}

/** The link with a name, or with the name of the field by which it is matched: “owner” of tasks matched by Owner. */
function linkCalled(noun: string, table: string, hand: Hand): Member | null {
  const leads = (m: Member | null): boolean => m !== null && (m.type.k === 'record' || m.type.k === 'list');
  const named = memberCalled(noun, table, hand);
  if (leads(named)) return named;
  const fields = tableAt(hand, table).fields;
  const key = fields.find((f) => same(f.name, noun));
  const link = key && fields.find((f) => f.link?.from === key.id);
  return link ? (hand.model.members(table).find((m) => m.id === link.id) ?? null) : null;
}

/** What a member of a record leads to, where that is a record or several. */
function along(from: Named, member: Member, hand: Hand): Named | null {
  const several = member.type.k === 'list';
  const of = member.type.k === 'list' ? member.type.of : member.type;
  if (of.k !== 'record') return null;
  const made = {
    stored: `${from.stored}.${member.id}`,
    table: of.table,
    several,
    said: `${from.said} › ${member.name}`,
  };
  hand.said.set(made.stored, made.said);
  return made;
}

/** “its keeper”, “the keeper of the hive”, “the hive’s visits”, “the keeper”: along links of what is at hand. */
function alongPath(words: string, hand: Hand, all: boolean): Named | null {
  const split = ofParts(words);
  if (split) {
    const from = recordsIn(split.of, hand);
    const member = from && !from.several && linkCalled(split.what, from.table, hand);
    return member ? along(from, member, hand) : null;
  }
  const own = /^(?:its|their|the|this)\s+(.+)$/i.exec(words)?.[1] ?? words;
  const member = hand.it && !hand.it.several && !all ? linkCalled(own, hand.it.table, hand) : null;
  // Several linked records are only meant when the words say whose they are.
  if (!member || (member.type.k === 'list' && !/^(?:its|their)\s/i.test(words))) return null;
  return along(hand.it!, member, hand);
}

/** “keeper of the hive” and “the hive’s keeper”: what, and of what. */
export function ofParts(words: string): { what: string; of: string } | null {
  const of = /^(.+?)\s+of\s+(.+)$/i.exec(words);
  if (of) return { what: bare(of[1]!), of: of[2]! };
  const s = /^(.+?)(?:'s|’s|s'|s’)\s+(.+)$/i.exec(words);
  return s ? { what: bare(s[2]!), of: s[1]! } : null;
}

/** Can a step write to it? */
export const isWritable = (table: Table, id: string): boolean =>
  table.fields.some((f) => f.id === id && !f.formula && !fieldKind(f.type).keptByApp);
