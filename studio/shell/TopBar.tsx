import { ChevronDown, Copy, Download, FolderArchive, FolderOpen, LayoutGrid, Redo2, Search, Undo2 } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { keepBundle, bundleText, download } from '../state/keep.ts';
import { useStudio } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu } from '../ui/popover.tsx';
import { chooseFiles } from '../ui/files.ts';
import { NotesButton } from './NotesButton.tsx';
import { Trail } from './Trail.tsx';

export function Kite({ size = 24 }: { size?: number }) {
  return <img src="/kite.svg" alt="" width={size * 0.86} height={size} />;
}

/** Several steps back say only the last, and do not pile up over the work. */
const UNDO_TOAST = 'undo';

export async function undoWithWords(): Promise<void> {
  const label = await useStudio.getState().undo();
  if (label !== undefined) toast(label ? `Undid: ${label}` : 'There is nothing to undo.', { id: UNDO_TOAST });
}
export async function redoWithWords(): Promise<void> {
  const label = await useStudio.getState().redo();
  if (label !== undefined) toast(label ? `Did again: ${label}` : 'There is nothing to do again.', { id: UNDO_TOAST });
}

export function TopBar({ onFind }: { onFind(): void }) {
  const id = useStudio((s) => s.kept?.id);
  const name = useStudio((s) => s.app?.name);
  const engine = useStudio((s) => s.engine);
  const back = useStudio((s) => s.past.at(-1)?.label);
  const again = useStudio((s) => s.future.at(-1)?.label);
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const { workspace = 'data' } = useParams();
  if (id === undefined || name === undefined || !engine) return null;

  /** The app as one text; what of it could not be had is said. */
  const bundle = async (): Promise<string> => {
    const bundled = await engine.exporting.bundled();
    const { lost } = bundled;
    if (lost.length)
      toast.warning(
        `${lost.length === 1 ? `“${lost[0]}” is` : `${lost.length} files are`} on the server only, which cannot be reached, and left out.`,
      );
    return bundleText(useStudio.getState().kept!, bundled);
  };
  const exportApp = async (): Promise<void> => {
    try {
      download(`${name}.kite.json`, await bundle(), 'application/json');
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const copyApp = async (): Promise<void> => {
    try {
      await navigate(`/app/${await keepBundle(await bundle(), name)}/data`);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const openFile = async (): Promise<void> => {
    const [file] = await chooseFiles('.json,application/json', false);
    if (!file) return;
    try {
      const id = await keepBundle(await file.text(), file.name);
      await navigate(`/app/${id}/data`);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };

  return (
    <header className="flex h-[52px] shrink-0 items-center gap-3 border-b border-line bg-raised px-3.5">
      <div className="flex w-[320px] min-w-0 items-center gap-2 max-[1100px]:w-[230px]">
        <button
          type="button"
          aria-label="All apps"
          onClick={() => void navigate('/')}
          className="shrink-0 rounded-md p-0.5"
        >
          <Kite />
        </button>
        <NameField
          value={name}
          label="Name of the app"
          onChange={(name) =>
            void edit('Renamed the app', (a) => {
              a.name = name;
            })
          }
          className="truncate font-head text-[15px] font-semibold"
        />
        <Menu
          trigger={
            <button
              type="button"
              aria-label="App menu"
              className="grid size-6 shrink-0 place-items-center rounded-md text-ink-soft hover:bg-sunk"
            >
              <ChevronDown size={15} aria-hidden />
            </button>
          }
          items={[
            { label: 'All apps', icon: LayoutGrid, run: () => void navigate('/') },
            null,
            { label: 'Export this app with its records', icon: Download, run: () => void exportApp() },
            {
              label: 'Export all data as a zip',
              icon: FolderArchive,
              run: () =>
                void engine.exporting.all().then((b) => download(`${name} data.zip`, b as BlobPart, 'application/zip')),
            },
            { label: 'Open an app file', icon: FolderOpen, run: () => void openFile() },
            {
              label: 'Make a copy',
              icon: Copy,
              run: () => void copyApp(),
            },
          ]}
        />
      </div>
      <Trail current={workspace} appId={id} />
      <div className="flex w-[320px] items-center justify-end gap-1 max-[1100px]:w-[230px]">
        <IconButton
          icon={Undo2}
          label={back === undefined ? 'Nothing to undo' : `Undo: ${back}`}
          disabled={back === undefined}
          onClick={() => void undoWithWords()}
        />
        <IconButton
          icon={Redo2}
          label={again === undefined ? 'Nothing to do again' : `Do again: ${again}`}
          disabled={again === undefined}
          onClick={() => void redoWithWords()}
        />
        <Button icon={Search} className="ml-1.5 text-ink-soft" onClick={onFind} aria-keyshortcuts="Control+K">
          Find{' '}
          <kbd className="rounded border border-line bg-paper px-1 font-mono text-[10px] font-normal max-[1100px]:hidden">
            Ctrl K
          </kbd>
        </Button>
        <NotesButton />
      </div>
    </header>
  );
}
