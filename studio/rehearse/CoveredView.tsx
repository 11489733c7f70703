import { Play, Square } from 'lucide-react';
import { Link } from 'react-router';
import type { App } from '../../core/app/schema.ts';
import { covered, type Covered } from '../../core/scenes/covered.ts';
import { useApp, useHome } from '../state/studio.ts';
import { Button, Note } from '../ui/controls.tsx';
import { SceneIndex } from './SceneIndex.tsx';
import { isCurrent, useScenes, type Played } from './scenes.ts';
import { SuggestedScenes } from './SuggestedScenes.tsx';

/** So many names are shown without a press. */
const FEW = 6;

const NAMES: Record<Covered['sort'], string> = {
  screens: 'Screens',
  routines: 'Routines',
  forms: 'Forms that are saved',
  rules: 'Rules',
  roles: 'Roles',
};

/** What the scenes that were played as the app is now have come to. */
const coveredNow = (app: App, played: Readonly<Record<string, Played>>): Covered[] =>
  covered(
    app,
    Object.values(played).flatMap((p) => (isCurrent(p, app) ? [p.result.touched] : [])),
  );

/** What of the app its scenes come to, and what none of them does. */
export function CoveredView() {
  const app = useApp();
  const { played, playing, problem, play, stop } = useScenes();
  const scenes = app.scenes ?? [];
  const rest = scenes.filter((s) => !isCurrent(played[s.id], app));
  const all = coveredNow(app, played);
  const look = async (): Promise<Covered[] | null> => {
    const ids = rest.map((s) => s.id);
    if (ids.length > 0 && !(await play(ids).catch(() => null))) return null;
    return coveredNow(app, useScenes.getState().played);
  };
  const playAll = (): void => void play(scenes.map((s) => s.id)).catch(() => undefined);
  return (
    <div className="flex min-h-0 min-w-0 flex-1">
      <SceneIndex selected="covered" />
      <main className="thin-scroll min-h-0 min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[760px]">
          <header className="flex items-center gap-3">
            <h1 className="text-xl">Covered by scenes</h1>
            <span role="status" className="min-w-0 flex-1 truncate text-ink-soft">
              {playing
                ? `${scenes.length - rest.length} of ${scenes.length} played`
                : rest.length > 0
                  ? rest.length === 1
                    ? '1 scene is not played yet as the app is now'
                    : `${rest.length} scenes are not played yet as the app is now`
                  : ''}
            </span>
            {scenes.length > 0 &&
              (playing ? (
                <Button icon={Square} onClick={stop}>
                  Stop
                </Button>
              ) : (
                <Button look="main" icon={Play} onClick={playAll}>
                  Play all
                </Button>
              ))}
          </header>
          <p className="mt-1.5 text-ink-soft">
            What the scenes of this app come to when they are played, up to where one fails. A rule is covered where
            somebody sees, adds, changes or removes a record by it; a role where somebody who has it uses the app.
          </p>
          {problem && (
            <div className="mt-3">
              <Note tone="bad">{problem}</Note>
            </div>
          )}
          {scenes.length === 0 ? (
            <p className="mt-3">There is no scene yet. Keep what you do in the room as one, or have some suggested.</p>
          ) : (
            <ul aria-label="Covered" className="card mt-4 divide-y divide-line">
              {all.map((c) => (
                <Sort key={c.sort} of={c} />
              ))}
            </ul>
          )}
          <SuggestedScenes missing={all} look={look} />
        </div>
      </main>
    </div>
  );
}

function Sort({ of: { sort, all, missing } }: { of: Covered }) {
  const home = useHome();
  const count = all - missing.length;
  const leads: Partial<Record<Covered['sort'], string>> = { screens: 'screens', routines: 'logic' };
  return (
    <li aria-label={NAMES[sort]} className="px-5 py-3">
      <div className="flex items-baseline gap-3">
        <h2 className="min-w-0 flex-1 font-text text-base font-semibold">{NAMES[sort]}</h2>
        <span className="text-ink-soft tabular-nums">
          {count} of {all}
        </span>
      </div>
      <div aria-hidden className="mt-1.5 h-1.5 overflow-hidden rounded-full bg-sunk">
        <div className="h-full rounded-full bg-kelp" style={{ width: `${(100 * count) / all}%` }} />
      </div>
      {missing.length > 0 && (
        <details className="mt-1.5" open={missing.length <= FEW}>
          <summary className="w-fit cursor-pointer text-sm text-ink-soft hover:text-ink">
            {missing.length} in no scene
          </summary>
          <ul className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
            {missing.map(({ id, name }) => (
              <li key={id} className="min-w-0 break-words">
                {leads[sort] ? (
                  <Link
                    className="underline decoration-line-strong underline-offset-2"
                    to={`${home}/${leads[sort]}/${id}`}
                  >
                    {name}
                  </Link>
                ) : (
                  name
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}
