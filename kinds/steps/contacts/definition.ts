import { field, optional, query, result, text, words } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import type { Row } from '../../../core/records/row.ts';
import { columnOf, countOf, linesOf, nameOfFile, type Column } from '../../../core/routines/columns.ts';
import type { MadeContact } from '../../../core/routines/made.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Writes records down as cards that address books take: vCard (RFC 6350). */
export const contactsFile = defineStep({
  do: 'contacts',
  said: { name: 'Make contact cards', hint: 'vCard, for address books' },
  only: 'phone',
  properties: {
    name: words('the name of the file', {
      unfilled: { severity: 'stops', said: 'the file of contact cards has no name.' },
    }),
    query: query('which records', {
      unfilled: { severity: 'stops', said: 'whose contact cards to make is not chosen.' },
    }),
    mail: optional(field('the mail address', 'query')),
    phone: optional(field('the phone number', 'query')),
    company: optional(field('the company or club', 'query')),
    address: optional(field('the address', 'query')),
    remark: optional(field('the note on the card', 'query')),
    result: result('the file'),
    resultName: text('the file'),
  },
}).does({
  // The field was once kept where the maker's own note beside a step is.
  upgrade({ note, ...stored }) {
    if (note === undefined) return stored;
    const isField = typeof note === 'string' && /^f_[a-z0-9]{6,24}$/.test(note) && stored['remark'] === undefined;
    return isField ? { ...stored, remark: note } : { ...stored, note };
  },
  begin: ({ id }) => ({ name: '', query: allOf(NO_TABLE), result: id('v'), resultName: 'the contact cards' }),
  gives: () => TEXT,
  start(step, s) {
    const name = nameOfFile(s.words(step.name), 'vcf');
    const rows = linesOf(s, step.query);
    const column = (id: string | undefined): Column | null => columnOf(s, step.query, id);
    const [mail, phone, company, address, note] = [step.mail, step.phone, step.company, step.address, step.remark].map(
      column,
    );
    const several = (c: Column | null | undefined, r: Row): string[] => {
      const v = c ? c.get(r) : null;
      return (Array.isArray(v) ? v : [v]).flatMap((x) => display(x, c?.field) || []);
    };
    const one = (c: Column | null | undefined, r: Row): string => several(c, r).join(', ');
    const contacts = rows.map((r): MadeContact => ({
      name: r.title(),
      mails: several(mail, r),
      phones: several(phone, r),
      company: one(company, r),
      address: one(address, r),
      note: one(note, r),
    }));
    return {
      ask: { ask: 'device', what: { do: 'make', file: { is: 'contacts', name, contacts } } },
      kept: `Wrote ${countOf(s, step.query, rows.length)} into ${name}`,
    };
  },
  answered: (_step, _s, kept, value) => ({ did: { said: String(kept), gave: 'a file', result: value } }),
});
