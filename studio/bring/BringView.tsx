import { ArrowRight, FilePlus2, FileSpreadsheet, Link2 } from 'lucide-react';
import { clsx } from 'clsx';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { tidyName } from '../../core/formats/sheet.ts';
import { readableEndings } from '../../core/formats/formats.ts';
import { Index, IndexGroup } from '../shell/Index.tsx';
import { Kite } from '../shell/TopBar.tsx';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import { FromAddress } from './FromAddress.tsx';
import { NameField } from '../ui/NameField.tsx';
import { number } from './counted.ts';
import type { LinkReview, SheetReview } from './review.ts';
import { SheetCard } from './SheetCard.tsx';
import { useBring } from './state.ts';

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
          <Button icon={FilePlus2} onClick={() => void chooseFiles(readableEndings(), true).then(add)}>
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
            words="Choose one or several CSV, XLSX, JSON or ZIP files, or fetch data from its address. Every sheet becomes a table you can correct here."
          >
            <Button
              look="main"
              icon={FileSpreadsheet}
              onClick={() => void chooseFiles(readableEndings(), true).then(add)}
            >
              Choose files
            </Button>
            <div className="mt-4 text-left">
              <FromAddress onFile={(file) => void add([file])} />
            </div>
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
