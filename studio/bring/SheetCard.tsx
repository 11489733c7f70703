import { clsx } from 'clsx';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Button } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { number } from './counted.ts';
import type { SheetReview } from './review.ts';
import { ReviewedColumns } from './ReviewedColumns.tsx';
import { SheetQuestions } from './SheetQuestions.tsx';
import type { Change } from './state.ts';

/** A sheet as the table that it becomes: its header row, its columns with their types, and what is not as it was. */
export function SheetCard({ sheet, at, change }: { sheet: SheetReview; at: number; change: Change }) {
  return (
    <section className={clsx('card overflow-hidden', sheet.skip && 'opacity-60')} aria-label={sheet.name}>
      <div className="flex items-baseline gap-3 px-4 pt-3.5 pb-2">
        <h2 className="text-[17px]">
          <NameField
            label="Name of the table"
            value={sheet.name}
            onChange={(n) => void change((w) => w.rename(at, n))}
          />
        </h2>
        <span className="flex-1 truncate text-ink-soft">
          {number(sheet.records)} {sheet.records === 1 ? 'record' : 'records'} from {sheet.file}
        </span>
        <ChoiceChip
          name="Header row"
          value={sheet.headerRow}
          width={420}
          label={sheet.headerRow < 0 ? 'no header row' : `headers in row ${sheet.headerRow + 1}`}
          choices={[
            { value: -1, label: 'There is no header row' },
            ...sheet.firstRows.map((r, i) => ({ value: i, label: `Row ${i + 1}: ${r.filter(Boolean).join(', ')}` })),
          ]}
          onChange={(row) => void change((w) => w.setHeader(at, row))}
        />
        <Button small onClick={() => void change((w) => w.setSkip(at, !sheet.skip))}>
          {sheet.skip ? 'Bring it in' : 'Leave it out'}
        </Button>
      </div>
      <SheetQuestions sheet={sheet} at={at} change={change} />
      {sheet.nothing > 0 && (
        <p className="px-4 pb-1.5 text-sm text-saffron">
          {number(sheet.nothing)} {sheet.nothing === 1 ? 'cell says' : 'cells say'} that there is nothing (such as “N/A”
          or “-”) and {sheet.nothing === 1 ? 'is' : 'are'} left empty.
        </p>
      )}
      {sheet.notes.map((n) => (
        <p key={n} className="px-4 pb-1.5 text-sm text-saffron">
          {n}
        </p>
      ))}
      <ReviewedColumns
        columns={sheet.columns}
        rows={sheet.sample.map((r) => r.map((text) => ({ text })))}
        change={(i, to) => void change((w) => w.setColumn(at, i, to))}
      />
      <Unread
        title={`${number(sheet.rejectedCount)} ${sheet.rejectedCount === 1 ? 'row' : 'rows'} could not be read`}
        count={sheet.rejectedCount}
        items={sheet.rejected}
      />
      <Unread
        title={`${number(sheet.oddCount)} ${sheet.oddCount === 1 ? 'cell is' : 'cells are'} not taken over as ${sheet.oddCount === 1 ? 'it was' : 'they were'}`}
        count={sheet.oddCount}
        items={sheet.odd}
      />
      <Unread
        title={`${number(sheet.misfitCount)} ${sheet.misfitCount === 1 ? 'cell does' : 'cells do'} not fit the type of ${sheet.misfitCount === 1 ? 'its' : 'their'} column`}
        count={sheet.misfitCount}
        items={sheet.misfits}
      />
    </section>
  );
}

function Unread({ title, count, items }: { title: string; count: number; items: { line: number; reason: string }[] }) {
  if (count === 0) return null;
  return (
    <details className="border-t border-line bg-saffron-wash/50 px-4 py-2" open={count <= 5}>
      <summary className="cursor-pointer font-semibold text-saffron">{title}</summary>
      <ul className="mt-1 space-y-0.5 pb-1">
        {items.map((u, i) => (
          <li key={i} className="flex gap-3">
            <span className="w-16 shrink-0 font-mono text-xs leading-5 text-ink-faint">line {u.line}</span>
            <span>{u.reason}</span>
          </li>
        ))}
        {count > items.length && <li className="text-ink-faint">and {number(count - items.length)} more</li>}
      </ul>
    </details>
  );
}
