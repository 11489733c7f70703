import { Dices, Film, Square } from 'lucide-react';
import { useNavigate } from 'react-router';
import type { ShakeFound } from '../../core/scenes/shake.ts';
import { plainSentence } from '../../core/scenes/sentence.ts';
import { useApp, useHome } from '../state/studio.ts';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { useChance } from './chance.ts';
import { keepScene } from './keep-scene.ts';
import { SceneIndex } from './SceneIndex.tsx';

/** Plays sensible acts by chance, and lists what went wrong, each with the shortest way there. */
export function ChanceView() {
  const app = useApp();
  const { running, tried, times, found, problem, begin, stop } = useChance();
  return (
    <div className="flex min-h-0 min-w-0 flex-1">
      <SceneIndex selected="chance" />
      <main className="thin-scroll min-h-0 min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[760px]">
          <header className="flex items-center gap-3">
            <h1 className="text-xl">Chance</h1>
            <span role="status" className="min-w-0 flex-1 truncate text-ink-soft">
              {running
                ? `${tried} of ${times} tries, ${found.length} found`
                : tried > 0
                  ? `${tried} tries, ${found.length} found`
                  : ''}
            </span>
            {running ? (
              <Button icon={Square} onClick={stop}>
                Stop
              </Button>
            ) : (
              <Button look="main" icon={Dices} onClick={() => void begin()}>
                Shake it
              </Button>
            )}
          </header>
          <p className="mt-1.5 text-ink-soft">
            Two people use the app by chance, on a copy of some of its records: they press, fill in, lose the network,
            do the same at once, and time passes. What must never be is looked for: routines that stop, forms that
            nobody can save, screens that show nothing, numbers that are lost, roles that people give themselves,
            records that no rule shows, and phones that end differently.
          </p>
          {problem && (
            <div className="mt-3">
              <Note tone="bad">{problem}</Note>
            </div>
          )}
          {!running && tried > 0 && found.length === 0 && !problem && (
            <Empty
              title="Nothing was found"
              words="That is no proof: other tries may find something. Shake it again."
            />
          )}
          <ul className="mt-4 space-y-3">
            {found.map((f) => (
              <Finding key={f.fault.key} found={f} app={app} />
            ))}
          </ul>
        </div>
      </main>
    </div>
  );
}

/** So many of the last steps are shown. */
const SHOWN = 12;

function Finding({ found, app }: { found: ShakeFound; app: ReturnType<typeof useApp> }) {
  const { fault, scene, from, to } = found;
  const home = useHome();
  const navigate = useNavigate();
  const keep = (): void =>
    void keepScene(scene).then((id) => {
      if (id) void navigate(`${home}/rehearse/${id}`);
    });
  const isKept = app.scenes?.some((s) => s.id === scene.id);
  return (
    <li className="card px-5 py-4">
      <div className="flex items-start gap-3">
        <p className="min-w-0 flex-1 font-semibold break-words">{fault.said}</p>
        <Button small icon={Film} disabled={isKept} onClick={keep}>
          {isKept ? 'Kept' : 'Keep as a scene'}
        </Button>
      </div>
      <p className="mt-0.5 text-sm text-ink-soft">
        {to < from
          ? `Made shorter: ${to} of ${from} acts lead there.`
          : `${from} ${from === 1 ? 'act leads' : 'acts lead'} there.`}
      </p>
      {scene.steps.length > SHOWN && (
        <p className="mt-2 text-sm text-ink-faint">
          The last {SHOWN} of {scene.steps.length} steps:
        </p>
      )}
      <ol
        start={Math.max(1, scene.steps.length - SHOWN + 1)}
        className="mt-2 list-decimal space-y-0.5 pl-7 text-ink-soft"
      >
        {scene.steps.slice(-SHOWN).map((s) => (
          <li key={s.id} className="break-words">
            {plainSentence(app, scene, s)}
          </li>
        ))}
      </ol>
    </li>
  );
}
