import { Copy, MoreHorizontal, Play, Square, Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { copyOfScene } from '../../core/app/scene-edits.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu } from '../ui/popover.tsx';
import { BeginsWith } from './BeginsWith.tsx';
import { roomTime } from './ClockBar.tsx';
import type { EditScene } from './edit-scene.ts';
import { SceneIndex } from './SceneIndex.tsx';
import { SceneSteps } from './SceneSteps.tsx';
import { isCurrent, useScenes } from './scenes.ts';
import { ThenPane } from './ThenPane.tsx';

/** A scene is played anew so long after its last change, in milliseconds. */
const AFTER_MS = 700;

const NO_IDS: Readonly<Record<string, string>> = {};

/** A scene that was kept: its steps as sentences, what came of them, and the phones as they were then. */
export function SceneView({ id }: { id: string }) {
  const app = useApp();
  const home = useHome();
  const navigate = useNavigate();
  const edit = useStudio((s) => s.edit);
  const scene = app.scenes?.find((s) => s.id === id);
  const played = useScenes((s) => s.played[id]);
  const playing = useScenes((s) => s.playing);
  const play = useScenes((s) => s.play);
  const stop = useScenes((s) => s.stop);
  const problem = useScenes((s) => s.problem);
  const [selected, setSelected] = useState<readonly string[]>([]);
  const isPlaying = playing?.scene === id;
  const current = isCurrent(played, app);

  // What goes wrong is told above the steps.
  const playNow = (): void => void play([id]).catch(() => undefined);
  // What is looked at is played, also after a change.
  useEffect(() => {
    if (!scene || current) return;
    const timer = setTimeout(() => playNow(), played ? AFTER_MS : 0);
    return () => clearTimeout(timer);
  }, [scene, current]);

  const results = isPlaying ? playing.steps : current ? played!.result.steps : [];
  const steps = new Map(results.map((r) => [r.step, r]));
  const failed = current ? played!.result.failed : null;
  // The first difference is what somebody wants to see.
  useEffect(() => {
    if (!failed) return;
    setSelected([failed.step]);
    document.querySelector(`[data-scene-step="${failed.step}"]`)?.scrollIntoView({ block: 'center' });
  }, [failed?.step]);

  if (!scene)
    return (
      <div className="flex min-h-0 flex-1">
        <SceneIndex selected={id} />
        <Empty title="This scene is not here any more" words="It was removed. Undo brings it back.">
          <Button look="main" onClick={() => void navigate(`${home}/rehearse`)}>
            Go to the room
          </Button>
        </Empty>
      </div>
    );

  const change: EditScene = (label, recipe, merge) =>
    void edit(
      label,
      (a) => {
        const found = a.scenes?.find((s) => s.id === id);
        if (found) recipe(found);
      },
      merge === undefined ? {} : { merge: `${id} ${merge}` },
    );
  const remove = (): void => {
    void edit(`Removed the scene ${scene.name}`, (a) => {
      const left = a.scenes?.filter((s) => s.id !== id) ?? [];
      if (left.length) a.scenes = left;
      else delete a.scenes;
    }).then(() => {
      const other = app.scenes?.find((s) => s.id !== id);
      void navigate(other ? `${home}/rehearse/${other.id}` : `${home}/rehearse`);
      toast(`${scene.name} is removed.`);
    });
  };
  const copy = (): void => {
    const made = copyOfScene(app, scene);
    void edit('Made a copy of a scene', (a) => {
      a.scenes?.push(made);
    }).then(() => void navigate(`${home}/rehearse/${made.id}`));
  };
  const of = current ? played!.result : null;
  return (
    <div className="flex min-h-0 min-w-0 flex-1">
      <SceneIndex selected={id} />
      <main className="flex min-h-0 min-w-0 flex-1 flex-col">
        <header className="flex min-h-[52px] shrink-0 items-center gap-2 border-b border-line px-5">
          <h1 className="min-w-0 text-xl">
            <NameField
              label="Name of the scene"
              value={scene.name}
              onChange={(name) => change('Renamed a scene', (s) => void (s.name = name.slice(0, 200)))}
            />
          </h1>
          <span role="status" className="min-w-0 flex-1 truncate text-sm text-ink-soft">
            {isPlaying
              ? `plays step ${playing.steps.length + 1} of ${scene.steps.length}`
              : of?.passed
                ? `passes, in ${(of.ms / 1000).toLocaleString('en-GB', { maximumFractionDigits: 1 })} s`
                : of
                  ? 'fails'
                  : ''}
          </span>
          {isPlaying ? (
            <Button icon={Square} onClick={stop}>
              Stop
            </Button>
          ) : (
            <Button look="main" icon={Play} onClick={playNow}>
              Play
            </Button>
          )}
          <Menu
            align="end"
            trigger={
              <button
                type="button"
                aria-label="More for this scene"
                className="grid size-7 place-items-center rounded-control text-ink-soft hover:bg-sunk"
              >
                <MoreHorizontal size={16} aria-hidden />
              </button>
            }
            items={[
              { label: 'Make a copy', icon: Copy, run: copy },
              { label: 'Remove the scene', icon: Trash2, danger: true, run: remove },
            ]}
          />
        </header>
        <div className="thin-scroll min-h-0 flex-1 overflow-auto px-5 py-3">
          {(problem || of?.problem) && <Note tone="bad">{problem || of!.problem}</Note>}
          <p className="flex flex-wrap items-center gap-x-1.5 pb-2 text-ink-soft">
            It begins on {roomTime(scene.at)} with <BeginsWith scene={scene} change={change} />
          </p>
          <SceneSteps
            app={app}
            scene={scene}
            results={steps}
            selected={selected}
            select={setSelected}
            change={change}
            nth={played?.nth ?? 0}
            ids={played?.result.ids ?? NO_IDS}
          />
        </div>
      </main>
      <ThenPane
        app={app}
        scene={scene}
        step={selected.at(-1) ?? null}
        result={steps.get(selected.at(-1) ?? '') ?? null}
        nth={played?.nth ?? 0}
        ids={played?.result.ids ?? NO_IDS}
      />
    </div>
  );
}
