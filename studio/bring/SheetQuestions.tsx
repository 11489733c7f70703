import type { ReactNode } from 'react';
import type { ColumnDraft } from '../../core/formats/infer.ts';
import { hasShortYear } from '../../core/fields/read-text.ts';
import { GUESSES } from '../../kinds/fields/guesses.ts';
import { Button, Note } from '../ui/controls.tsx';
import { counted } from './counted.ts';
import type { SheetReview } from './review.ts';
import type { Change } from './state.ts';

const THIS_YEAR = new Date().getUTCFullYear();

/** What a sheet leaves open, each with its answers; what is taken for now is said with it. */
export function SheetQuestions({ sheet, at, change }: { sheet: SheetReview; at: number; change: Change }) {
  return (
    <>
      {sheet.columns.map(
        (c, i) =>
          c.ambiguous &&
          !c.skip &&
          GUESSES[c.type]?.asksDayOrder && (
            <Question
              key={`day ${i}`}
              answers={[
                [
                  'Day first',
                  () => void change((w) => w.setColumn(at, i, { dayOrder: 'day first', ambiguous: false })),
                ],
                [
                  'Month first',
                  () => void change((w) => w.setColumn(at, i, { dayOrder: 'month first', ambiguous: false })),
                ],
              ]}
            >
              <b className="font-semibold">{c.name}</b>: is {c.samples[0]} written day first or month first? It is read{' '}
              {c.dayOrder} for now.
            </Question>
          ),
      )}
      {sheet.columns.map(
        (c, i) =>
          c.ambiguousDecimal &&
          !c.skip && (
            <Question
              key={`decimal ${i}`}
              answers={[
                [
                  'A thousands mark',
                  () => void change((w) => w.setColumn(at, i, { decimal: other(markOf(c)), ambiguousDecimal: false })),
                ],
                [
                  'The decimal sign',
                  () => void change((w) => w.setColumn(at, i, { decimal: markOf(c), ambiguousDecimal: false })),
                ],
              ]}
            >
              <b className="font-semibold">{c.name}</b>: in{' '}
              {c.samples.find((v) => /[.,]\d{3}\b/.test(v)) ?? c.samples[0]}, what is the mark before the last three
              digits? Nothing in the file tells.
            </Question>
          ),
      )}
      {sheet.columns.map(
        (c, i) =>
          c.ambiguousYears &&
          !c.skip && (
            <Question
              key={`years ${i}`}
              answers={[
                [
                  'Up to this year',
                  () => void change((w) => w.setColumn(at, i, { until: THIS_YEAR, ambiguousYears: false })),
                ],
                [
                  'All in the 1900s',
                  () => void change((w) => w.setColumn(at, i, { until: 1999, ambiguousYears: false })),
                ],
              ]}
            >
              <b className="font-semibold">{c.name}</b>: which hundred years is {c.samples.find(hasShortYear)} in? Years
              of birth are read as up to {c.until} for now.
            </Question>
          ),
      )}
      {sheet.misfitCount > 0 && (
        <Question
          answers={
            sheet.oddApart
              ? [['Leave them empty', () => void change((w) => w.setTaken(at, { oddApart: false }))]]
              : [['Keep them', () => void change((w) => w.setTaken(at, { oddApart: true }))]]
          }
        >
          <b className="font-semibold">
            {counted(sheet.misfitCount, 'cell does', 'cells do')} not fit {sheet.misfitCount === 1 ? 'its' : 'their'}{' '}
            column
          </b>
          , {sheet.oddApart ? 'kept as written in a column of texts' : 'left empty'}. They are listed below; another
          type for the column may fit them all.
        </Question>
      )}
      {sheet.hiddenRows > 0 && (
        <Question
          answers={
            sheet.bringHidden
              ? [['Leave them out', () => void change((w) => w.setTaken(at, { bringHidden: false }))]]
              : [['Bring them', () => void change((w) => w.setTaken(at, { bringHidden: true }))]]
          }
        >
          <b className="font-semibold">Hidden in the file: {counted(sheet.hiddenRows, 'row', 'rows')}</b>,{' '}
          {sheet.bringHidden ? 'brought' : 'left out'}. What is brought everyone with the link could see.
        </Question>
      )}
      {sheet.under > 0 && (
        <Question
          answers={
            sheet.fillDown
              ? [['Leave them empty', () => void change((w) => w.setTaken(at, { fillDown: false }))]]
              : [['Fill them down', () => void change((w) => w.setTaken(at, { fillDown: true }))]]
          }
        >
          <b className="font-semibold">Under merged cells: {counted(sheet.under, 'cell', 'cells')}</b>,{' '}
          {sheet.fillDown ? 'filled with the text above' : 'left empty'}.
        </Question>
      )}
    </>
  );
}

/** The mark before three digits that can be read either way, in the samples of a column. */
const markOf = (c: ColumnDraft): '.' | ',' => (c.samples.some((v) => /,\d{3}\b/.test(v)) ? ',' : '.');
const other = (mark: '.' | ','): '.' | ',' => (mark === '.' ? ',' : '.');

/** Something that only the maker knows, with its answers. */
function Question({ answers, children }: { answers: [string, () => void][]; children: ReactNode }) {
  return (
    <div className="mx-4 mb-2">
      <Note
        action={
          <span className="flex gap-2">
            {answers.map(([words, run]) => (
              <Button key={words} small onClick={run}>
                {words}
              </Button>
            ))}
          </span>
        }
      >
        {children}
      </Note>
    </div>
  );
}
