import type { Step } from '../../../core/app/schema.ts';
import type { FieldValue } from '../../../core/document/pieces.ts';
import { keepings, keepingStep, withRecord } from '../../../core/app/keeps.ts';
import { valueForLink } from '../../../core/app/people.ts';
import { raiseInstead } from '../../../core/preflight/lost-moves.ts';
import { canRaise } from '../../../core/records/raise.ts';
import type { Field, Table } from '../../../core/tables/schema.ts';
import { firstOf, type Rule } from './clause.ts';
import { bare, forms, personAt, quoted, same, tableAt, type Hand, type Named } from './hand.ts';
import { adjectiveOf, isWritable, listOf, mine, recordsIn, tableCalled } from './records.ts';
import { fieldIn, pathTo, spanIn, valueIn } from './values.ts';

type To = { of: Named; field: Field };

/** The field that is to be set or raised: of the record at hand, of another, or of several (“weight of all hives”). */
function fieldToChange(words: string, hand: Hand): To | null {
  const found = fieldIn(words, hand);
  return found && isWritable(tableAt(hand, found.of.table), found.field.id) ? found : null;
}

/** A step that sets one field; a number set to itself and an amount is raised, so that no move is lost. */
function setting({ of, field }: To, value: string, hand: Hand): Step {
  const step = hand.make.step('set', { record: of.stored, values: [{ field: field.id, value }] });
  hand.said.set(of.stored, of.said);
  return raiseInstead(step, (id) => hand.model.field(id)) ?? step;
}

/** “status to retired”, “quantity to 3, minimum to 2 and place to cellar”, “quantity and minimum to 0”. */
function assignments(rest: string, hand: Hand): Step | null {
  const parts = rest.split(/\s*,\s*(?:and\s+)?|\s+and\s+/i);
  if (parts.length > 1) {
    const each = parts.map((p) => assignment(p, hand));
    const steps = each.flatMap((s) => (s?.do === 'set' ? [s] : []));
    const [first] = steps;
    if (first && steps.length === parts.length && steps.every((s) => s.record === first.record))
      return oneEach({ ...first, values: steps.flatMap((s) => s.values) });
    const together = /^(.+?)\s+(?:to|=)\s+(.+)$/i.exec(rest);
    const names = together?.[1]!.split(/\s*,\s*|\s+and\s+/i) ?? [];
    const same = names.map((n) => assignment(`${n} to ${together![2]}`, hand));
    const sets = same.flatMap((s) => (s?.do === 'set' ? [s] : []));
    if (names.length > 1 && sets.length === names.length && sets.every((s) => s.record === sets[0]!.record))
      return oneEach({ ...sets[0]!, values: sets.flatMap((s): FieldValue[] => s.values) });
  }
  return assignment(rest, hand);
}

/** A field that is set twice, “to high and low”, cannot be meant. */
const oneEach = (step: Extract<Step, { do: 'set' }>): Step | null =>
  new Set(step.values.map((v) => v.field)).size === step.values.length ? step : null;

/**
 * What a field is set to. A text by which a link is matched takes what the record that is meant has there: “leader to
 * me” is the name of the person, and not the word.
 */
function valueFor({ of, field }: To, words: string, hand: Hand): string | null {
  const link = tableAt(hand, of.table).fields.find((f) => f.link?.from === field.id);
  const record = link && recordsIn(words, hand);
  if (record && !record.several && record.table === link.link!.table) return linking(link, record, hand).value;
  // A person cannot be told from the word where nothing says that people are meant.
  if (/^(?:me|myself)$/i.test(words.trim()) && field.type !== 'link' && field.type !== 'person') return null;
  return valueIn(words, hand, field);
}

/** “status to retired”, “weight = 12”, “status retired”: a field by its name, then a value of its type. */
function assignment(words: string, hand: Hand): Step | null {
  const to = /^(.+?)\s+(?:to|as)\s+(.+)$|^(.+?)\s*=\s*(.+)$/i.exec(words);
  const target = to && fieldToChange(to[1] ?? to[3]!, hand);
  if (target) {
    const value = valueFor(target, to[2] ?? to[4]!, hand);
    // What is set to itself is a slip.
    return value === null || value === `${target.of.stored}.${target.field.id}` ? null : setting(target, value, hand);
  }
  // “status retired”: each way to cut the words in two.
  const all = words.split(' ');
  for (let n = all.length - 1; n > 0; n--) {
    const short = fieldToChange(all.slice(0, n).join(' '), hand);
    const value = short && valueFor(short, all.slice(n).join(' '), hand);
    if (short && value && !to) return setting(short, value, hand);
  }
  return stateOf(words, hand);
}

/** “as retired”, “this task done”, “all hives as active”, “it high priority”: a choice or a yes, by its name alone. */
function stateOf(words: string, hand: Hand): Step | null {
  const text = words.trim();
  const split = /^(.*?)\s*\b(?:as|to be|to)\s+(.+)$/i.exec(text);
  const tries: [string, string][] = split ? [[split[1]!, split[2]!]] : [];
  const all = text.split(' ');
  for (let n = all.length - 1; n >= 0; n--) tries.push([all.slice(0, n).join(' '), all.slice(n).join(' ')]);
  for (const [who, state] of tries) {
    const of = recordsIn(who.replace(/\s+(?:as|to)$/i, ''), hand);
    const found = of && stateField(state, tableAt(hand, of.table));
    if (found) return setting({ of, field: found.field }, found.value, hand);
  }
  return null;
}

/** The field that one word says the state of: “retired”, “done”, “not done”, “high priority”. */
function stateField(words: string, table: Table): { field: Field; value: string } | null {
  const fieldOf = (id: string): Field => table.fields.find((f) => f.id === id)!;
  const adjective = adjectiveOf(words, table);
  if (adjective?.op === 'is') return { field: fieldOf(adjective.left), value: adjective.right };
  for (const f of table.fields) {
    const before = f.type === 'choice' && words.toLowerCase().endsWith(` ${f.name.toLowerCase()}`);
    const choice = before && f.choices?.find((c) => same(c.name, words.slice(0, -f.name.length)));
    if (choice) return { field: f, value: quoted(choice.name) };
  }
  return null;
}

/** “weight by 5”, “weight of all hives by 1”, “my points by the points”. */
function raising(how: 'raise' | 'lower', what: string, amount: string, hand: Hand): Step | null {
  const variable = hand.app.variables?.find((v) => same(v.name, bare(what)));
  if (variable) {
    const value = variable.type === 'number' && valueIn(amount, hand, variable);
    if (!value) return null;
    return hand.make.step('variable', {
      how: 'add',
      variable: variable.id,
      value: how === 'lower' ? `-${value}` : value,
    });
  }
  const target = fieldToChange(what, hand);
  if (!target || !canRaise(target.field)) return null;
  const value = valueIn(amount, hand, target.field);
  if (value === null || value === 'null') return null;
  hand.said.set(target.of.stored, target.of.said);
  return hand.make.step('raise', { how, record: target.of.stored, values: [{ field: target.field.id, value }] });
}

/** Puts the record at hand among what the person keeps, or takes it out: “this course”, “my favourites”. */
function keeping(what: string, list: string, add: boolean, hand: Hand): Step | null {
  const one = recordsIn(what, hand);
  if (!one || one.several || one.table !== hand.it?.table) return null;
  const name = list.trim().replace(/^(?:my|the|our)\s+/i, '');
  const kept = keepings(hand.app, tableAt(hand, one.table)).find((k) => forms(k.name).includes(name.toLowerCase()));
  if (!kept) return null;
  const person = personAt(hand)!;
  if ('field' in kept) {
    const { value } = withRecord(kept, one.stored, add);
    hand.said.set(value, `${kept.name} ${add ? 'with' : 'without'} ${one.said}`);
  } else if (add) {
    linking(kept.link, one, hand);
    if (kept.owner.link) linking(kept.owner, person, hand);
    hand.said.set('person()', person.said);
  } else {
    hand.said.set(one.stored, one.said);
    const owner = mine(kept.between, hand)!;
    listOf(kept.between, [{ left: kept.link.id, op: 'is', right: one.stored }, owner], hand);
  }
  return keepingStep(hand.make, kept, one.stored, add);
}

/** What is written so that a link leads to a record at hand. */
function linking(link: Field, to: Named, hand: Hand): FieldValue {
  const value = valueForLink(link, to.stored);
  const by = link.link?.kind === 'matched' ? hand.model.nameOf(link.link.to!) : undefined;
  hand.said.set(value.value, by ? `${to.said} › ${by}` : to.said);
  return value;
}
/** The person, as a value of a field for people. */
function whoFor(id: string, hand: Hand): FieldValue {
  const field = hand.model.field(id)!;
  if (field.type === 'link') return linking(field, personAt(hand)!, hand);
  hand.said.set('person()', 'the person using the app');
  return { field: id, value: 'person()' };
}

const removing = (of: Named, hand: Hand): Step => {
  hand.said.set(of.stored, of.said);
  return hand.make.step('remove', { record: of.stored });
};
const adding = (table: Table, values: FieldValue[], hand: Hand): Step =>
  hand.make.step('add', { table: table.id, resultName: `new ${table.one}`, values });

/** What a new record of a table is linked to, or matched by, when it is made where another is at hand. */
function fromHand(table: Table, hand: Hand): FieldValue[] {
  const { it } = hand;
  const field = it && table.fields.find((f) => f.link && f.link.table === it.table);
  if (!it || !field || it.several) return [];
  return [linking(field, it, hand)];
}

/** “a visit with fed 2”, “a keeper named Odile”, “a task for me”. */
function newRecord(rest: string, hand: Hand): Step | null {
  const text = bare(rest)
    .replace(/^new\s+/i, '')
    .replace(/^record (?:to|in|into|of)\s+/i, '');
  const m = /^(.+?)(?:(?:,|\s+(with|called|named|titled|for|by|today)\b)\s*(.*))?$/i.exec(text);
  const found = m && tableCalled(bare(m[1]!), hand);
  if (!m || !found || (found.plural && !/^record/i.test(bare(rest).replace(/^new\s+/i, '')))) return null;
  const { table } = found;
  const values = fromHand(table, hand);
  const put = (more: FieldValue): void => {
    const at = values.findIndex((v) => v.field === more.field);
    if (at >= 0) values[at] = more;
    else values.push(more);
  };
  const join = m[2]?.toLowerCase();
  let tail = m[3] ?? '';
  if (join === 'today') {
    const days = table.fields.filter((f) => f.type === 'date' || f.type === 'datetime');
    if (tail || days.length !== 1) return null;
    put({ field: days[0]!.id, value: days[0]!.type === 'date' ? 'today()' : 'now()' });
    return adding(table, values, hand);
  }
  if (join === 'for' || join === 'by') {
    const who = /^(?:me|myself)\b\s*(?:(?:with|and|,)\s+)?/i.exec(tail);
    const owner = mine(table, hand);
    if (!who || !owner) return null;
    put(whoFor(owner.left, hand));
    tail = tail.slice(who[0].length);
  }
  if (join && ['called', 'named', 'titled'].includes(join)) {
    const title = table.fields.find((f) => f.id === table.titleField);
    const value = title && valueIn(tail, hand, title);
    // More than a name may follow; which words are the name cannot be told then.
    if (!value || /\b(?:due|with|by|for|and)\b/i.test(tail)) return null;
    put({ field: title.id, value });
    return adding(table, values, hand);
  }
  for (const part of tail ? tail.split(/\s*,\s*(?:and\s+)?|\s+and\s+/i) : []) {
    const cut = table.fields.find((f) => part.toLowerCase().startsWith(`${f.name.toLowerCase()} `));
    const value =
      cut && isWritable(table, cut.id)
        ? valueIn(part.slice(cut.name.length).replace(/^\s*(?:to|=|of|is)\s+/i, ''), hand, cut)
        : null;
    if (value === null) return null;
    put({ field: cut!.id, value });
  }
  return adding(table, values, hand);
}

/** “due by 1 day”: a day moved on by a span. */
function moving(rest: string, hand: Hand): Step | null {
  const m = /^(.+?)\s+by\s+(.+)$/i.exec(rest);
  const target = m && fieldToChange(m[1]!, hand);
  const span = m && spanIn(m[2]!);
  if (!target || !span || !['date', 'datetime'].includes(target.field.type) || target.of.several) return null;
  const value = `${pathTo(target, hand)} + ${span.stored}`;
  hand.said.set(value, `${target.of.said} › ${target.field.name} + ${span.said}`);
  return setting(target, value, hand);
}

/** A yes or no that is turned round. */
function toggling(rest: string, hand: Hand): Step | null {
  const target = fieldToChange(rest, hand);
  if (target?.field.type !== 'yesno' || target.of.several) return null;
  const value = `not(${pathTo(target, hand)})`;
  hand.said.set(value, `not ${target.field.name}`);
  return setting(target, value, hand);
}

function clearing(rest: string, hand: Hand): Step | null {
  const variable = hand.app.variables?.find((v) => same(v.name, bare(rest)));
  if (variable) return hand.make.step('variable', { how: 'clear', variable: variable.id });
  const target = fieldToChange(rest, hand);
  return target && setting(target, 'null', hand);
}

/** “Score to 0” of a variable; undefined when no variable is named. */
function settingVariable(rest: string, hand: Hand): Step | null | undefined {
  const m = /^(.+?)\s*(?:\bto\b|=)\s*(.+)$/i.exec(rest);
  const variable = m && hand.app.variables?.find((v) => same(v.name, bare(m[1]!)));
  if (!m || !variable) return undefined;
  const value = valueIn(m[2]!, hand, variable);
  if (value === null) return null;
  if (value === 'null') return hand.make.step('variable', { how: 'clear', variable: variable.id });
  return hand.make.step('variable', { how: 'set', variable: variable.id, value });
}

const yes = (on: boolean) => (rest: string, hand: Hand) => {
  const target = fieldToChange(rest, hand);
  return target?.field.type === 'yesno' ? setting(target, String(on), hand) : null;
};
const ONE_OF_ITS_OWN = /^(?:mark|set|make|change|update|tick|check)\b/i;

/** What is done with records and variables. */
export const recordClause = firstOf([
  [/^(?:raise|increase|increment|count up|bump)\s+/i, (rest, hand) => by('raise', rest, hand)],
  [/^(?:lower|decrease|reduce|decrement|count down)\s+/i, (rest, hand) => by('lower', rest, hand)],
  [
    /^(?:add|put)\s+(?=.*\bto\b)/i,
    (rest, hand) => {
      const m = /^(.*?)\s*\bto\s+(?:the\s+(?=\S+\s+of\b))?(.+)$/i.exec(rest);
      return m && (raising('raise', m[2]!, m[1]!, hand) ?? keeping(m[1]!, m[2]!, true, hand));
    },
  ],
  [
    /^(?:subtract|take|deduct|remove)\s+(?=.+\bfrom\b)/i,
    (rest, hand) => {
      const m = /^(.+?)\s+from\s+(.+)$/i.exec(rest);
      return m && raising('lower', m[2]!, m[1]!, hand);
    },
  ],
  [
    /^(?:remove|delete|take|drop)\s+(?=.*\b(?:from|off|out of)\b)/i,
    (rest, hand) => {
      const m = /^(.*?)\s*\b(?:from|off|out of)\s+(.+)$/i.exec(rest);
      return m && keeping(m[1]!, m[2]!, false, hand);
    },
  ],
  [
    /^(?:save|keep)\s+(?=.*\b(?:to|in)\b)/i,
    (rest, hand) => {
      const m = /^(.*?)\s*\b(?:to|in)\s+(.+)$/i.exec(rest);
      return m && keeping(m[1]!, m[2]!, true, hand);
    },
  ],
  [/^(?:favou?rite|bookmark)\s+/i, (rest, hand) => keeping(rest, 'favourites', true, hand)],
  [/^(?:unfavou?rite|un-favou?rite)\s+/i, (rest, hand) => keeping(rest, 'favourites', false, hand)],
  [
    /^(?:remove|delete|erase)\b/i,
    (rest, hand) => {
      // What the whole of a table is needs a word that says so.
      // “remove me” may mean from anything.
      const of = rest ? (/^(?:me|myself)$/i.test(rest) ? null : recordsIn(rest, hand)) : hand.it;
      return of && removing(of, hand);
    },
  ],
  [
    /^throw\s+(?=.+\baway$)/i,
    (rest, hand) => {
      const of = recordsIn(rest.replace(/\s*away$/i, ''), hand);
      return of && removing(of, hand);
    },
  ],
  [/^(?:toggle|switch|flip)\s+/i, toggling],
  [/^(?:untick|uncheck|unmark)\s+/i, yes(false)],
  [/^(?:tick|check)\s+/i, yes(true)],
  [/^(?:postpone|move|delay|shift)\s+(?=.+\bby\b)/i, moving],
  [/^(?:clear|empty|reset)\s+/i, clearing],
  [
    /^assign\b\s*/i,
    (rest, hand) => {
      const m = /^(.*?)\s*\bto\s+(.+)$/i.exec(rest);
      const of = m && recordsIn(m[1]!, hand);
      const owner = of && mine(tableAt(hand, of.table), hand);
      const field = owner && hand.model.field(owner.left);
      if (!of || !field) return null;
      const key = field.link?.kind === 'matched' ? hand.model.field(field.link.from!)! : field;
      const value = valueFor({ of, field: key }, m![2]!, hand);
      return value ? setting({ of, field: key }, value, hand) : null;
    },
  ],
  [
    /^rename\b\s*/i,
    (rest, hand) => {
      const m = /^(.*?)\s*\bto\s+(.+)$/i.exec(rest);
      const of = m && recordsIn(m[1]!, hand);
      const title = of && tableAt(hand, of.table).fields.find((f) => f.id === tableAt(hand, of.table).titleField);
      const value = title && isWritable(tableAt(hand, of.table), title.id) ? valueIn(m[2]!, hand, title) : null;
      return value && !of!.several ? setting({ of: of!, field: title! }, value, hand) : null;
    },
  ],
  [
    /^(?:set|put|change|update|make|mark)\s+/i,
    (rest, hand, begin) => {
      const variable = settingVariable(rest, hand);
      if (variable !== undefined) return variable;
      return (/^mark/i.test(begin[0]) ? stateOf(rest, hand) : null) ?? assignments(rest, hand);
    },
  ],
  [/^(?:add|create|insert|new)\s+/i, newRecord],
  [
    /^(?=\S)/,
    (rest, hand) => {
      if (ONE_OF_ITS_OWN.test(rest)) return null;
      const sum = /^(.+?)\s*(\+|-|−|plus|minus)\s*(.+)$/i.exec(rest);
      if (sum) return raising(/^(?:\+|plus)$/i.test(sum[2]!) ? 'raise' : 'lower', sum[1]!, sum[3]!, hand);
      // “done”: the state alone, where the record at hand has a yes or no of that name.
      const own = hand.it && tableAt(hand, hand.it.table).fields.find((f) => f.type === 'yesno' && same(f.name, rest));
      return own ? setting({ of: hand.it!, field: own }, 'true', hand) : null;
    },
  ],
] satisfies Rule[]);

function by(how: 'raise' | 'lower', rest: string, hand: Hand): Step | null {
  const m = /^(.+?)\s+by\s+(.+)$/i.exec(rest);
  return m ? raising(how, m[1]!, m[2]!, hand) : raising(how, rest, '1', hand);
}
