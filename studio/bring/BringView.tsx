import { ArrowRight, FilePlus2, FileSpreadsheet, Link2 } from 'lucide-react';
import { clsx } from 'clsx';
import { useEffect, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { ColumnDraft, ColumnType } from '../../core/formats/infer.ts';
import { tidyName } from '../../core/formats/sheet.ts';
import { READABLE_ENDINGS } from '../../kinds/formats/index.ts';
import { hasShortYear } from '../../core/fields/read-text.ts';
import { fieldKind } from '../../kinds/fields/index.ts';
import { COLUMN_TYPES } from '../../core/formats/infer.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Index, IndexGroup } from '../shell/Index.tsx';
import { Kite } from '../shell/TopBar.tsx';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import { NameField } from '../ui/NameField.tsx';
import type { LinkReview, SheetReview } from './review.ts';
import { useBring } from './state.ts';

const TYPES = COLUMN_TYPES;
const THIS_YEAR = new Date().getUTCFullYear();
const number = (n: number): string => n.toLocaleString('en-GB');
const counted = (n: number, one: string, many: string): string => `${number(n)} ${n === 1 ? one : many}`;

/** Shows what was read before it becomes an app: every sheet, its types, what could not be read, and the links. */
export function BringView() {
  const { review, reading, problems, add, change, make, clear } = useBring();
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const [name, setName] = useState('');
  const [kept, setKept] = useState<{ done: number; all: number } | null>(null);
  useEffect(() => {
    document.title = 'Bring in a spreadsheet - Mellow Kite';
  }, []);

  // Corrections live here until the app is made: the browser asks before a reload throws them away.
  const unmade = Boolean(review) && kept === null;
  useEffect(() => {
    if (!unmade) return;
    const ask = (e: BeforeUnloadEvent): void => e.preventDefault();
    addEventListener('beforeunload', ask);
    return () => removeEventListener('beforeunload', ask);
  }, [unmade]);

  const sheets = review?.sheets ?? [];
  const sheet = sheets[at];
  const appName = name || tidyName((sheets[0]?.file ?? 'New app').replace(/\.[^.]*$/, ''));
  const accept = async (): Promise<void> => {
    setKept({ done: 0, all: 0 });
    try {
      const id = await make(appName, (done, all) => setKept({ done, all }));
      await navigate(`/app/${id}/screens`);
      clear();
    } catch (e) {
      setKept(null);
      toast.error(
        /quota/i.test((e as Error).message)
          ? 'This browser’s storage is full. Free some space, then try again; your files are still here.'
          : (e as Error).message,
      );
    }
  };
  const leave = (): void => {
    clear();
    void navigate('/');
  };
  const usable = sheets.some((s) => !s.skip);

  return (
    <div className="flex h-full min-w-[960px] flex-col">
      <header className="flex h-[52px] shrink-0 items-center justify-between border-b border-line bg-raised px-3.5">
        <span className="flex items-center gap-2.5 font-head text-[15px] font-semibold">
          <Kite /> Bring in a spreadsheet
        </span>
        <div className="flex items-center gap-2">
          <Button look="quiet" onClick={leave}>
            Leave
          </Button>
          <Button icon={FilePlus2} onClick={() => void chooseFiles(READABLE_ENDINGS, true).then(add)}>
            Add a file
          </Button>
          {sheets.length > 0 && (
            <Button
              look="main"
              icon={ArrowRight}
              disabled={!usable || kept !== null || reading !== null}
              onClick={() => void accept()}
            >
              Make the app
            </Button>
          )}
        </div>
      </header>
      {kept && (
        <div role="status" className="bg-kelp-wash px-4 py-2 text-kelp">
          {kept.all ? `Keeping ${number(kept.done)} of ${number(kept.all)} records` : 'Making tables and screens'}
        </div>
      )}
      {sheets.length === 0 && !reading ? (
        <main className="flex-1 px-6">
          {problems.map((p) => (
            <div key={p} className="mx-auto mt-6 max-w-2xl">
              <Note tone="bad">{p}</Note>
            </div>
          ))}
          <Empty
            title={problems.length ? 'Nothing could be read' : 'No file yet'}
            words="Choose one or several CSV, XLSX, JSON or ZIP files. Every sheet becomes a table you can correct here."
          >
            <Button
              look="main"
              icon={FileSpreadsheet}
              onClick={() => void chooseFiles(READABLE_ENDINGS, true).then(add)}
            >
              Choose files
            </Button>
          </Empty>
        </main>
      ) : (
        <div className="flex min-h-0 flex-1">
          <Index label="Sheets">
            <IndexGroup title="Sheets">
              {sheets.map((s, i) => (
                <li key={i}>
                  <button
                    type="button"
                    aria-current={i === at}
                    onClick={() => setAt(i)}
                    className={clsx(
                      'flex h-[30px] w-full items-center gap-2 rounded-control px-2 text-left',
                      i === at ? 'bg-raised font-semibold shadow-[0_0_0_1px_var(--color-line)]' : 'hover:bg-sunk/70',
                      s.skip && 'opacity-50',
                    )}
                  >
                    <FileSpreadsheet size={15} className="shrink-0 text-ink-soft" aria-hidden />
                    <span className="min-w-0 flex-1 truncate">{s.name}</span>
                    <span className="text-xs text-ink-faint">{number(s.records)}</span>
                  </button>
                </li>
              ))}
              {reading && (
                <li role="status" className="px-2 py-1.5 text-ink-faint">
                  Reading {reading}
                </li>
              )}
            </IndexGroup>
          </Index>
          <main className="thin-scroll min-w-0 flex-1 overflow-auto px-7 py-6">
            <div className="max-w-[1000px] space-y-4">
              {problems.map((p) => (
                <Note key={p} tone="bad">
                  {p}
                </Note>
              ))}
              <p className="text-md text-ink-soft">
                The app will be called{' '}
                <NameField
                  label="Name of the new app"
                  value={appName}
                  onChange={setName}
                  className="text-md font-semibold text-ink"
                />
                . Everything here can be changed later too.
              </p>
              {review && review.links.length > 0 && (
                <Links
                  links={review.links}
                  sheets={sheets}
                  onChange={(i, accepted) => void change((w) => w.setLink(i, accepted))}
                />
              )}
              {sheet && <SheetCard key={at} sheet={sheet} at={at} change={change} />}
            </div>
          </main>
        </div>
      )}
    </div>
  );
}

function Links({
  links,
  sheets,
  onChange,
}: {
  links: LinkReview[];
  sheets: SheetReview[];
  onChange(i: number, accepted: boolean): void;
}) {
  const column = (end: { table: number; column: number }): string =>
    sheets[end.table]!.columns.filter((c) => !c.skip)[end.column]?.name ?? '';
  return (
    <section className="card p-4" aria-label="Links">
      <h2 className="mb-1 text-[15px]">These sheets hold the same values</h2>
      {links.map((l, i) => (
        <label
          key={i}
          className="flex min-h-9 cursor-pointer items-center gap-2.5 border-t border-line/70 py-1 first-of-type:border-0"
        >
          <input
            type="checkbox"
            checked={l.accepted}
            onChange={(e) => onChange(i, e.target.checked)}
            className="size-4 accent-kelp"
          />
          <Link2 size={15} className="text-kelp" aria-hidden />
          <span className="min-w-0 flex-1">
            <b className="font-semibold">{sheets[l.from.table]!.name}</b> match{' '}
            <b className="font-semibold">{sheets[l.to.table]!.name}</b> by {column(l.from)}
            {column(l.from) !== column(l.to) && <> = {column(l.to)}</>}:{' '}
            <span className={l.found === l.of ? 'text-kelp' : 'text-saffron'}>
              {number(l.found)} of {number(l.of)} found
            </span>
          </span>
          <span className="truncate text-xs text-ink-faint">{l.samples.join(', ')}</span>
        </label>
      ))}
    </section>
  );
}

function SheetCard({
  sheet,
  at,
  change,
}: {
  sheet: SheetReview;
  at: number;
  change: ReturnType<typeof useBring.getState>['change'];
}) {
  const ask = sheet.columns
    .map((c, i) => ({ c, i }))
    .filter(({ c }) => c.ambiguous && fieldKind(c.type).guess?.asksDayOrder);
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
          {number(sheet.records)} records from {sheet.file}
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
      {ask.map(({ c, i }) => (
        <div key={i} className="mx-4 mb-2">
          <Note
            action={
              <span className="flex gap-2">
                <Button
                  small
                  onClick={() => void change((w) => w.setColumn(at, i, { dayOrder: 'day first', ambiguous: false }))}
                >
                  Day first
                </Button>
                <Button
                  small
                  onClick={() => void change((w) => w.setColumn(at, i, { dayOrder: 'month first', ambiguous: false }))}
                >
                  Month first
                </Button>
              </span>
            }
          >
            <b className="font-semibold">{c.name}</b>: is {c.samples[0]} written day first or month first? It is read{' '}
            {c.dayOrder} for now.
          </Note>
        </div>
      ))}
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
      <div className="thin-scroll overflow-x-auto border-t border-line">
        <table className="w-full border-collapse text-left">
          <thead>
            <tr className="bg-paper/60">
              {sheet.columns.map((c, i) => (
                <th
                  key={i}
                  className={clsx(
                    'border-r border-line px-3 py-2 align-top font-normal last:border-0',
                    c.skip && 'opacity-50',
                  )}
                >
                  <NameField
                    label={`Name of column ${i + 1}`}
                    value={c.name}
                    onChange={(n) => void change((w) => w.setColumn(at, i, { name: n }))}
                    className="font-semibold"
                  />
                  <div className="mt-1">
                    <ChoiceChip
                      name={`Type of ${c.name}`}
                      value={(c.skip ? 'skip' : c.type) as ColumnType | 'skip'}
                      choices={[
                        ...TYPES.map((t) => ({ value: t as ColumnType | 'skip', label: fieldKind(t).name })),
                        { value: 'skip' as const, label: 'leave this column out' },
                      ]}
                      onChange={(t) =>
                        void change((w) =>
                          w.setColumn(at, i, t === 'skip' ? { skip: true } : { type: t as ColumnType, skip: false }),
                        )
                      }
                    />
                  </div>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sheet.sample.map((r, i) => (
              <tr key={i} className="border-t border-line/70">
                {r.map((v, k) => (
                  <td
                    key={k}
                    className={clsx(
                      'max-w-52 truncate border-r border-line/70 px-3 py-1.5 last:border-0',
                      fieldKind(sheet.columns[k]?.type ?? 'text').grid?.figures && 'text-right font-mono text-[12px]',
                      sheet.columns[k]?.skip && 'opacity-40',
                    )}
                    title={v}
                  >
                    {v || <span className="text-ink-faint">empty</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
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
