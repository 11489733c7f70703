import { thisId, VARIABLES } from '../../../core/document/ids.ts';
import { field, formula, oneOf, optional, tap, words, yesNo } from '../../../core/document/meaning.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import { isWritable } from '../../../core/records/cells.ts';
import { formCell } from '../../../core/records/form-values.ts';
import { display } from '../../../core/records/format.ts';
import type { Model } from '../../../core/records/model.ts';
import type { Value } from '../../../core/formula/values.ts';
import { Row } from '../../../core/records/row.ts';
import type { Records } from '../../../core/records/store.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

export const input = defineElement({
  kind: 'input',
  said: { name: 'Input', hint: 'one value' },
  properties: {
    /** A field of the form around or of the record at hand, or a variable. */
    field: field('what it fills in', 'form', {
      unfilled: { severity: 'stops', said: 'what it fills in is not chosen.' },
    }),
    label: optional(words('the label')),
    hint: optional(words('the hint in it')),
    help: optional(words('the help below it')),
    as: optional(
      oneOf('the way it is filled in', {
        usual: 'as usual',
        chips: 'by chips',
        menu: 'from a menu',
        ticks: 'by ticks',
        slider: 'by a slider',
        search: 'as a search box',
        drawing: 'by drawing',
        signing: 'by signing',
        hidden: 'with hidden letters',
      }),
    ),
    /** Behind a drawing; it is not kept with it. */
    behind: optional(formula('the picture behind', 'picture')),
    size: optional(oneOf('the size of what is typed', { usual: 'Usual', large: 'Large', huge: 'Huge' })),
    /** A list: of the choices of its field only these are offered, and of a text nothing else can be chosen. */
    offers: optional(formula('what it offers', 'any')),
    /** A link: what is not found yet can be added by its name. */
    adds: optional(
      yesNo('whether new records can be added', { true: 'can be added by name', false: 'cannot be added' }),
    ),
    /** Nearer limits than those of its field. */
    least: optional(formula('the least', 'value')),
    most: optional(formula('the most', 'value')),
    locked: optional(formula('read-only when', 'yesNo')),
    check: optional(formula('what must hold', 'yesNo')),
    checkWords: optional(words('what is said otherwise')),
    scanned: optional(tap('when a code was scanned')),
    drawn: optional(tap('when it is drawn on')),
  },
}).does({
  begin: ({ form }) => ({ field: form?.fields[0]?.id ?? '' }),
  name: (e, naming) => naming.field(e.field)?.name ?? '',
  notes(e, { form, fields, things }) {
    if (e.field === '' || e.field.startsWith('v_'))
      return e.field === '' || fields(VARIABLES).some((v) => v.id === e.field)
        ? []
        : [{ severity: 'stops', said: 'its variable is not there any more.' }];
    if (form !== null)
      return fields(form).some((f) => f.id === e.field)
        ? []
        : [{ severity: 'stops', said: 'what it fills in is not chosen.' }];
    const atHand = things.some((t) => t.type.k === 'record' && fields(t.type.table).some((f) => f.id === e.field));
    return atHand ? [] : [{ severity: 'stops', said: 'its field belongs to no form or record that is at hand here.' }];
  },
  draw(e, d) {
    const model = [...d.records.model.tables.values()].find((t) => t.fields.has(e.field));
    const found = model?.fields.get(e.field);
    const table = model?.table.id ?? '';
    const matchedBy = found?.link?.kind === 'matched' ? model?.fields.get(found.link.from ?? '') : undefined;
    const isVariable = table === VARIABLES;
    const atHand = !isVariable && d.form === null && d.has(thisId(table));
    const record = d.formula(atHand ? thisId(table) : '');
    // Whether it may be changed hangs on what is in its record.
    const ruled = d.ruled && atHand;
    if (isVariable || atHand) d.reads(table, ruled ? undefined : e.field);
    const label = e.label === undefined ? null : d.words(e.label);
    const hint = d.words(e.hint ?? '');
    const help = d.words(e.help ?? '');
    const locked = d.formula(e.locked ?? '');
    const isStill = ruled || e.locked !== undefined || (found !== undefined && !isWritable(found));
    const read = isStill && isVariable ? e.field : isStill && atHand ? `${thisId(table)}.${e.field}` : '';
    const shown = d.formula(read);
    const behind = d.formula(e.behind ?? '');
    const offers = e.offers ? d.formula(e.offers) : null;
    const [least, most] = [d.formula(e.least ?? ''), d.formula(e.most ?? '')];
    const check = e.check ? d.formula(e.check) : null;
    const checkWords = d.words(e.checkWords ?? '');
    return (p) => {
      const row = isVariable ? d.records.rows(VARIABLES)[0] : record.at(p);
      const cell: Cell = found && row instanceof Row ? formCell(row, found) : null;
      const fails = check !== null && cell !== null && check.at(p) === false;
      const limits = { least: nearer(found?.least, least.at(p), 1), most: nearer(found?.most, most.at(p), -1) };
      const offered = offers ? offeredBy(offers.at(p)) : null;
      return {
        field: e.field,
        /** Where what is filled in goes: the form around, a variable, or at once into the record at hand. */
        into: isVariable ? 'variable' : d.form !== null ? 'form' : row instanceof Row ? 'record' : 'nothing',
        table,
        record: row instanceof Row && !isVariable ? row.id : null,
        /** Its value outside a form, which knows its own. */
        cell,
        type: found?.type ?? null,
        label: label?.(p) ?? found?.name ?? '',
        /** What it is called where it has no label. */
        called: found?.name ?? '',
        hint: hint(p),
        help: help(p),
        as: e.as ?? 'usual',
        behind: d.address(textOf(behind.at(p))),
        size: e.size ?? 'usual',
        scanned: tapped(e.scanned),
        drawn: tapped(e.drawn),
        locked: locked.at(p) === true || (ruled && row instanceof Row && mayNot(d.records, row, e.field)),
        /** What stands there where it cannot be typed into; null in a form, which knows its own value. */
        shown: read ? display(shown.at(p), found) : null,
        fails: fails
          ? checkWords(p) || 'This does not fit here.'
          : outside(found, row instanceof Row ? row.cells[e.field] : null, limits),
        required: found?.required ?? matchedBy?.required ?? false,
        /** A yes/no that may be not answered. */
        unknown: found?.unknown ?? false,
        unit: found?.unit,
        ...limits,
        decimals: found?.decimals,
        /** A choice of several, or a link to several records: its cell is a list. */
        several: found?.several ?? false,
        /** Address of the picture that a place on a plan is put on. */
        plan: found?.plan ? d.address(found.plan) : null,
        /** False for what the app fills in itself. */
        writable: found ? isWritable(found) || found.link?.kind === 'matched' : false,
        choices: choicesOf(found?.choices, offered),
        /** A text for which one of these is chosen, and nothing is typed. */
        picks: offered !== null && !found?.choices,
        link: found?.link?.table ?? null,
        adds: e.adds ? addedBy(d.records.model, found) : null,
        phone: found && fieldKind(found.type).phone,
      };
    };
  },
});

/** Do the rules say that this field is not theirs to change? */
const mayNot = ({ may }: Records, row: Row, field: string): boolean => may !== null && !may.changes(row).has(field);

/** How a record at the other end of a link is added by its name; null where a name alone does not make one that is found. */
function addedBy(model: Model, field: Field | undefined): { title: string; one: string } | null {
  const target = field?.link && model.tables.get(field.link.table);
  const title = target?.fields.get(target.table.titleField ?? '');
  if (!target || title?.type !== 'text') return null;
  if (field!.link!.kind === 'matched' && field!.link!.to !== title.id) return null;
  return { title: title.id, one: target.table.one };
}

/** A limit by its field and one by a formula: the nearer counts; `sign` is 1 for a least, -1 for a most. */
function nearer(own: number | undefined, given: Value, sign: 1 | -1): number | undefined {
  if (typeof given !== 'number' || !Number.isFinite(given)) return own;
  return own === undefined ? given : sign * Math.max(sign * own, sign * given);
}

/** What is wrong with a number outside its limits, in words. */
function outside(
  field: Field | undefined,
  cell: Cell | undefined,
  { least, most }: { least: number | undefined; most: number | undefined },
): string | null {
  if (!field || typeof cell !== 'number') return null;
  const said = (n: number): string => fieldKind(field.type).limit?.(n) ?? String(n);
  if (least !== undefined && cell < least) return `At least ${said(least)}, please.`;
  return most !== undefined && cell > most ? `At most ${said(most)}, please.` : null;
}

/** So many choices are offered. */
const MOST_OFFERED = 300;

/** The texts of a list, each once, as people read its values. */
const offeredBy = (v: Value): string[] =>
  [...new Set((Array.isArray(v) ? v : [v]).map((x) => display(x)).filter((t) => t !== ''))].slice(0, MOST_OFFERED);

/** The choices of a field, or those of them that are offered; without choices of its own, all that is offered. */
function choicesOf(own: readonly { name: string }[] | undefined, offered: readonly string[] | null): readonly string[] {
  if (!own) return offered ?? [];
  const names = own.map((c) => c.name);
  return offered ? names.filter((n) => offered.includes(n)) : names;
}

const textOf = (v: unknown): string => (typeof v === 'string' ? v : '');
