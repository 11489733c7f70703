import { FileSpreadsheet, FolderOpen, MoreHorizontal, Trash2, Upload } from 'lucide-react';
import { clsx } from 'clsx';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type DragEvent } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { readableEndings } from '../../core/formats/formats.ts';
import { FromAddress } from '../bring/FromAddress.tsx';
import { useBring } from '../bring/state.ts';
import { chooseFiles } from '../ui/files.ts';
import { forgetApp, forgetRecords, isAppFile, keepApp, keepBundle } from '../state/keep.ts';
import { registry, type KeptApp } from '../state/registry.ts';
import { useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Menu } from '../ui/popover.tsx';
import { FromNothing } from './FromNothing.tsx';
import { Kite } from '../shell/TopBar.tsx';

/** The opening view: begin from a spreadsheet, from nothing, with the demo, or go on with an app. */
export function StartView() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const bring = useBring();
  const [over, setOver] = useState(false);
  const [opening, setOpening] = useState(false);
  const { data: apps } = useQuery({
    queryKey: ['apps'],
    queryFn: () => registry.apps.orderBy('changed').reverse().toArray(),
    staleTime: 0,
  });
  useEffect(() => {
    document.title = 'Mellow Kite';
    useStudio.getState().close();
  }, []);

  const openApp = async (file: File): Promise<void> => {
    try {
      await navigate(`/app/${await keepBundle(await file.text(), file.name)}/data`);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const take = async (files: File[]): Promise<void> => {
    if (files.length === 0) return;
    try {
      for (const file of files) if (await isAppFile(file)) return await openApp(file);
      void bring.add(files);
      await navigate('/bring');
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const openDemo = async (): Promise<void> => {
    setOpening(true);
    try {
      const there = apps?.find((a) => a.demo);
      const { makeDemo } = await import('../../demo/heatherfield.ts');
      await navigate(`/app/${there?.id ?? (await keepApp(makeDemo(), { demo: true }))}/screens`);
    } catch (e) {
      toast.error((e as Error).message);
    } finally {
      setOpening(false);
    }
  };
  const remove = async (app: KeptApp): Promise<void> => {
    const kept = await forgetApp(app.id);
    await queries.invalidateQueries({ queryKey: ['apps'] });
    let back = false;
    toast(`Removed ${app.app.name} from this browser.`, {
      duration: 8000,
      action: {
        label: 'Bring it back',
        onClick: () => {
          back = true;
          void registry.apps.put(kept!).then(() => queries.invalidateQueries({ queryKey: ['apps'] }));
        },
      },
      onAutoClose: () => {
        if (!back) void forgetRecords(app.id);
      },
    });
  };

  return (
    <div className="min-h-full">
      <header className="flex h-[52px] items-center justify-between border-b border-line bg-raised px-3.5">
        <span className="flex items-center gap-2.5 font-head text-[15px] font-semibold">
          <Kite /> Mellow Kite
        </span>
        <Button
          icon={FolderOpen}
          onClick={() => void chooseFiles('.json,application/json', false).then(([file]) => file && openApp(file))}
        >
          Open an app file
        </Button>
      </header>
      <main className="mx-auto max-w-[980px] px-6 pt-11 pb-16">
        <h1 className="text-2xl leading-tight">What should the phone do?</h1>
        <p className="mt-1 text-[15px] text-ink-soft">
          Bring the sheet you already keep. You will have an app to correct in a minute.
        </p>
        <div className="mt-7 grid grid-cols-[1.5fr_1fr] gap-4">
          <section
            onDragOver={(e: DragEvent) => {
              e.preventDefault();
              setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={(e: DragEvent) => {
              e.preventDefault();
              setOver(false);
              void take([...e.dataTransfer.files]);
            }}
            className={clsx(
              'flex min-h-[200px] flex-col justify-between gap-6 rounded-card border border-dashed p-6 transition-colors',
              over ? 'border-persimmon bg-persimmon-wash' : 'border-line-strong bg-raised',
            )}
          >
            <div className="flex items-center gap-5">
              <span className="grid size-14 shrink-0 place-items-center rounded-2xl bg-persimmon-wash text-persimmon">
                <FileSpreadsheet size={24} aria-hidden />
              </span>
              <div>
                <h2 className="text-[18px]">From a spreadsheet</h2>
                <p className="text-md text-ink-soft">
                  Drop CSV, XLSX or JSON files here, several at once, or fetch data from its address. Columns that match
                  are linked.
                </p>
              </div>
            </div>
            <div className="flex items-start gap-3">
              <Button
                look="main"
                icon={Upload}
                className="h-9 px-4"
                onClick={() => void chooseFiles(readableEndings(), true).then(take)}
              >
                Choose files
              </Button>
              <span className="mt-[5px] text-sm text-ink-soft">or</span>
              <FromAddress onFile={(file) => void take([file])} />
            </div>
          </section>
          <FromNothing onFiles={(files) => void take(files)} />
        </div>

        <h2 className="mt-10 mb-3 text-[19px]">
          Your apps <span className="ml-1.5 font-text text-sm font-normal text-ink-soft">kept in this browser</span>
        </h2>
        <div className="grid grid-cols-3 gap-4 max-[1060px]:grid-cols-2">
          {apps
            ?.filter((a) => !a.demo)
            .map((a) => (
              <AppCard
                key={a.id}
                kept={a}
                onOpen={() => void navigate(`/app/${a.id}/screens`)}
                onRemove={() => void remove(a)}
              />
            ))}
          <DemoCard
            kept={apps?.find((a) => a.demo)}
            opening={opening}
            onOpen={() => void openDemo()}
            onRemove={(a) => void remove(a)}
          />
        </div>
      </main>
    </div>
  );
}

export function AppIcon({ look, size = 52 }: { look: KeptApp['app']['look']; size?: number }) {
  const { icon } = look;
  if (icon.picture)
    return (
      <img
        src={icon.picture}
        alt=""
        width={size}
        height={size}
        className="shrink-0 rounded-[26%] object-cover"
        style={{ width: size, height: size }}
      />
    );
  return (
    <span
      aria-hidden
      className="grid shrink-0 place-items-center rounded-[26%] font-head font-semibold text-white"
      style={{ width: size, height: size, background: icon.colour, fontSize: size * 0.36 }}
    >
      {icon.letters}
    </span>
  );
}

const count = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

function AppCard({ kept, onOpen, onRemove }: { kept: KeptApp; onOpen(): void; onRemove(): void }) {
  const { app } = kept;
  return (
    <article className="card relative flex items-center gap-4 p-4 hover:border-line-strong">
      <AppIcon look={app.look} />
      <div className="min-w-0 flex-1">
        <button
          type="button"
          onClick={onOpen}
          className="block max-w-full truncate text-md font-semibold after:absolute after:inset-0 after:rounded-card"
        >
          {app.name}
        </button>
        <p className="truncate text-ink-soft">
          {count(app.tables.length, 'table')}, {count(app.screens.length, 'screen')}
        </p>
        <p className="truncate text-xs text-ink-faint">
          {kept.released ? `Released at /a/${kept.released.address}` : 'Not released'}
        </p>
      </div>
      <Menu
        align="end"
        trigger={
          <button
            type="button"
            aria-label={`More for ${app.name}`}
            className="relative z-10 grid size-7 self-start rounded-md place-items-center text-ink-soft hover:bg-sunk"
          >
            <MoreHorizontal size={16} aria-hidden />
          </button>
        }
        items={[{ label: 'Remove from this browser', icon: Trash2, danger: true, run: onRemove }]}
      />
    </article>
  );
}

function DemoCard({
  kept,
  opening,
  onOpen,
  onRemove,
}: {
  kept: KeptApp | undefined;
  opening: boolean;
  onOpen(): void;
  onRemove(kept: KeptApp): void;
}) {
  if (kept) return <AppCard kept={kept} onOpen={onOpen} onRemove={() => onRemove(kept)} />;
  return (
    <article className="card relative flex items-center gap-4 p-4 hover:border-line-strong">
      <AppIcon look={{ theme: 'straw', accent: null, icon: { letters: 'HB', colour: '#A35A00', picture: null } }} />
      <div className="min-w-0 flex-1">
        <button
          type="button"
          onClick={onOpen}
          disabled={opening}
          className="block max-w-full truncate text-md font-semibold after:absolute after:inset-0 after:rounded-card"
        >
          Heatherfield Bees
        </button>
        <p className="text-ink-soft">{opening ? 'Making the demo' : 'The demo, to take apart'}</p>
        <p className="text-xs text-ink-faint">A beekeepers’ cooperative</p>
      </div>
    </article>
  );
}
