import { fields, query, result, text, words } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { harmless } from '../../../core/fields/harmless.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { headerOf } from '../../../core/records/column-header.ts';
import { fileText } from '../../../core/records/file-text.ts';
import { columnsOf, countOf, linesOf, nameOfFile } from '../../../core/routines/columns.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Writes records down as a file that spreadsheet programs read: CSV (RFC 4180). */
export const csv = defineStep({
  do: 'csv',
  said: { name: 'Make a table file', hint: 'CSV, for spreadsheets' },
  only: 'phone',
  properties: {
    name: words('the name of the file', { unfilled: { severity: 'stops', said: 'the table file has no name.' } }),
    query: query('which records', {
      unfilled: { severity: 'stops', said: 'the records of a table file are not chosen.' },
    }),
    columns: fields('its columns', 'query', {
      unfilled: { severity: 'stops', said: 'a table file has no columns yet.' },
    }),
    result: result('the file'),
    resultName: text('the file'),
  },
}).does({
  begin: ({ id }) => ({ name: '', query: allOf(NO_TABLE), columns: [], result: id('v'), resultName: 'the table file' }),
  gives: () => TEXT,
  start(step, s) {
    const name = nameOfFile(s.words(step.name), 'csv');
    const rows = linesOf(s, step.query);
    const columns = columnsOf(s, step.query, step.columns);
    if (columns.length === 0) throw new StepError('The table file has no columns yet.');
    const lines = [
      columns.map((c) => harmless(headerOf(c.field))),
      ...rows.map((r) => columns.map((c) => fileText(c.get(r), c.field, false))),
    ];
    return {
      ask: { ask: 'device', what: { do: 'make', file: { is: 'csv', name, lines } } },
      kept: `Wrote ${countOf(s, step.query, rows.length)} into ${name}`,
    };
  },
  answered: (_step, _s, kept, value) => ({ did: { said: String(kept), gave: 'a file', result: value } }),
});
