import { Film, Lightbulb, Square } from 'lucide-react';
import type { App } from '../../core/app/schema.ts';
import type { Covered } from '../../core/scenes/covered.ts';
import { plainSentence } from '../../core/scenes/sentence.ts';
import type { Suggested } from '../../core/scenes/suggest.ts';
import { useApp } from '../state/studio.ts';
import { Button, Note } from '../ui/controls.tsx';
import { keepScene } from './keep-scene.ts';
import { useSuggesting } from './chance.ts';

const isWanted = ({ sort, missing }: Covered): boolean => sort !== 'screens' && missing.length > 0;

/** Proposes scenes for the routines, forms, rules and roles that no scene comes to. */
export function SuggestedScenes({
  missing,
  look,
}: {
  missing: readonly Covered[];
  /** Plays what was not played yet, and gives what is missing then; null where that was stopped. */
  look(): Promise<readonly Covered[] | null>;
}) {
  const app = useApp();
  const { running, tried, times, found, problem, begin, stop } = useSuggesting();
  if (!missing.some(isWanted) && found.length === 0) return null;
  return (
    <section aria-label="Suggested scenes" className="mt-6">
      <header className="flex items-center gap-3">
        <h2 className="text-lg">Suggested scenes</h2>
        <span role="status" className="min-w-0 flex-1 truncate text-ink-soft">
          {running || tried > 0 ? `${tried} of ${times} tries, ${found.length} found` : ''}
        </span>
        {running ? (
          <Button icon={Square} onClick={stop}>
            Stop
          </Button>
        ) : (
          <Button
            icon={Lightbulb}
            onClick={() => void look().then((missing) => missing && begin(missing.filter(isWanted)))}
          >
            Suggest scenes
          </Button>
        )}
      </header>
      <p className="mt-1 text-ink-soft">
        One for each routine, form, rule and role that no scene comes to, as far as a way there is found by chance on a
        few of the records. Keep those that you want, and add what must be so.
      </p>
      {problem && (
        <div className="mt-3">
          <Note tone="bad">{problem}</Note>
        </div>
      )}
      {!running && tried > 0 && found.length === 0 && !problem && (
        <p className="mt-3">No way was found to any of them. Suggest again: others are tried each time.</p>
      )}
      <ul className="mt-3 space-y-3">
        {found.map((s) => (
          <Suggestion key={s.scene.id} suggested={s} app={app} />
        ))}
      </ul>
    </section>
  );
}

const SORTS: Record<Suggested['of']['sort'], string> = {
  screens: 'screen',
  routines: 'routine',
  forms: 'form',
  rules: 'rule',
  roles: 'role',
};

function Suggestion({ suggested: { of, scene }, app }: { suggested: Suggested; app: App }) {
  const isKept = app.scenes?.some((s) => s.id === scene.id);
  return (
    <li className="card px-5 py-4">
      <div className="flex items-start gap-3">
        <p className="min-w-0 flex-1 break-words">
          <b className="font-semibold">{of.name}</b> <span className="text-ink-soft">{SORTS[of.sort]}</span>
        </p>
        <Button small icon={Film} disabled={isKept} onClick={() => void keepScene(scene)}>
          {isKept ? 'Kept' : 'Keep as a scene'}
        </Button>
      </div>
      <ol className="mt-2 list-decimal space-y-0.5 pl-7 text-ink-soft">
        {scene.steps.map((s) => (
          <li key={s.id} className="break-words">
            {plainSentence(app, scene, s)}
          </li>
        ))}
      </ol>
    </li>
  );
}
