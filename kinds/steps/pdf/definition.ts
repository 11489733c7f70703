import { fields, formula, optional, query, result, text, words, yesNo } from '../../../core/document/meaning.ts';
import type { Query } from '../../../core/document/pieces.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import { columnsOf, countOf, linesOf, nameOfFile } from '../../../core/routines/columns.ts';
import type { MadePage } from '../../../core/routines/made.ts';
import { defineStep, StepError, type StepScope } from '../../../core/routines/step.ts';
import { sumOf } from '../../../core/screens/shown.ts';
import type { FieldType } from '../../../core/tables/schema.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';

/** As many lines as a page's table has; more nobody prints. */
const MOST = 2000;

/** Shares and ratings add up to nothing that means anything. */
const SUMMED = new Set<FieldType>(['number', 'money', 'duration', 'formula']);

/** Makes a PDF (ISO 32000) of words with values, and a table of records between them. */
export const pdf = defineStep({
  do: 'pdf',
  said: { name: 'Make a PDF', hint: 'words and a table, to print or send' },
  only: 'phone',
  properties: {
    name: words('the name of the file', { unfilled: { severity: 'stops', said: 'the PDF has no name.' } }),
    picture: optional(formula('the picture at its head', 'picture')),
    before: words('the words before the table', { lines: 5 }),
    query: optional(query('the records of its table')),
    columns: optional(fields('the columns of its table', 'query')),
    sums: optional(yesNo('sums', { true: 'with sums', false: 'without sums' })),
    after: words('the words after the table', { lines: 3 }),
    turned: yesNo('the page', { true: 'across', false: 'upright' }),
    result: result('the file'),
    resultName: text('the file'),
  },
}).does({
  begin: ({ id }) => ({ name: '', before: '', after: '', turned: false, result: id('v'), resultName: 'the PDF' }),
  gives: () => TEXT,
  notes: (step) =>
    !step.before.trim() && !step.after.trim() && !step.query
      ? [{ severity: 'stops', said: 'there is nothing in a PDF yet.' }]
      : step.query && !step.columns?.length
        ? [{ severity: 'stops', said: 'the table of a PDF has no columns yet.' }]
        : [],
  start(step, s) {
    const name = nameOfFile(s.words(step.name), 'pdf');
    const picture = step.picture ? s.value(step.picture, 'The picture of the PDF').value : null;
    const table = step.query ? tableOf(s, step.query, step.columns ?? [], step.sums === true) : null;
    const page: MadePage = {
      turned: step.turned,
      picture: typeof picture === 'string' ? picture : '',
      before: s.words(step.before),
      table,
      after: s.words(step.after),
    };
    if (!page.before.trim() && !page.after.trim() && !table) throw new StepError('There is nothing in the PDF yet.');
    const lines = table && step.query ? ` with ${countOf(s, step.query, table.lines.length)}` : '';
    return {
      ask: { ask: 'device', what: { do: 'make', file: { is: 'pdf', name, page } } },
      kept: `Made ${name}${lines}`,
    };
  },
  answered: (_step, _s, kept, value) => ({ did: { said: String(kept), gave: 'a file', result: value } }),
});

function tableOf(s: StepScope, from: Query, ids: readonly string[], sums: boolean): NonNullable<MadePage['table']> {
  const rows = linesOf(s, from, MOST);
  const columns = columnsOf(s, from, ids);
  if (columns.length === 0) throw new StepError('The table of the PDF has no columns yet.');
  const figures = columns.map(
    (c) =>
      fieldKind(c.field.type).grid?.figures === true ||
      (c.field.type === 'formula' && rows.every((r) => typeof (c.get(r) ?? 0) === 'number')),
  );
  return {
    head: columns.map((c) => c.field.name),
    figures,
    lines: rows.map((r) => columns.map((c) => display(c.get(r), c.field))),
    sums: sums ? columns.map((c, i) => (figures[i] && SUMMED.has(c.field.type) ? sumOf(rows, c) : '')) : null,
  };
}
