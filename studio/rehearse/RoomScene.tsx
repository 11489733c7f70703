import { Eye, Film, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link, useNavigate } from 'react-router';
import { sentence } from '../../core/scenes/sentence.ts';
import { MOST_SCENE_STEPS } from '../../core/app/scene-schema.ts';
import { isExpect } from '../../core/app/scene-edits.ts';
import { useApp, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { keepRoom } from './keep-scene.ts';
import { useRoom } from './room.ts';
import { Sentence } from './Sentence.tsx';

/** What was done in the room so far, as the steps of a scene, and the way to keep it. */
export function RoomScene() {
  const app = useApp();
  const home = useHome();
  const navigate = useNavigate();
  const engine = useRoom((s) => s.engine);
  const soFar = useRoom((s) => s.soFar);
  const expecting = useRoom((s) => s.expecting);
  const expect = useRoom((s) => s.expect);
  const { steps } = soFar;
  const end = useRef<HTMLLIElement>(null);
  useEffect(() => {
    end.current?.scrollIntoView({ block: 'nearest' });
  }, [steps.length]);
  const kept = app.scenes?.length ?? 0;
  return (
    <div className="flex min-h-full flex-col">
      <div className="sticky top-0 z-10 flex flex-wrap items-center gap-2 border-b border-line bg-raised px-4 py-2.5">
        <Button
          icon={Film}
          disabled={steps.length === 0}
          onClick={() =>
            void keepRoom(engine!).then((id) => {
              if (id) void navigate(`${home}/rehearse/${id}`);
            })
          }
        >
          Keep as a scene
        </Button>
        <Button look="quiet" icon={expecting ? X : Eye} aria-pressed={expecting} onClick={() => expect(!expecting)}>
          {expecting ? 'Leave it' : 'Expect'}
        </Button>
        <Link
          to={`${home}/rehearse/${app.scenes?.[0]?.id ?? 'chance'}`}
          className="ml-auto text-sm font-semibold text-kelp hover:underline"
        >
          {kept === 0 ? 'Chance' : kept === 1 ? '1 scene' : `${kept} scenes`}
        </Link>
      </div>
      {expecting && (
        <p role="status" className="bg-dusk-wash px-4 py-2 text-sm text-dusk">
          Press what must be seen, on any phone. Mails, records and what somebody was told have a sign of an eye of
          their own.
        </p>
      )}
      {soFar.isFull && (
        <p role="status" className="bg-saffron-wash px-4 py-2 text-sm">
          A scene takes {MOST_SCENE_STEPS.toLocaleString('en-GB')} steps. What is done from now on is not written down:
          keep this one, and begin anew.
        </p>
      )}
      {steps.length === 0 ? (
        <p className="px-4 py-3 text-ink-soft">
          Nothing yet. What you do with the phones is written down here, step by step. Kept as a scene it can be played
          again, and is before every release.
        </p>
      ) : (
        <ol className="py-1.5">
          {steps.map((s, i) => (
            <li
              key={s.id}
              ref={i === steps.length - 1 ? end : undefined}
              className="group flex items-start gap-2.5 px-4 py-1"
            >
              <span className="w-6 shrink-0 pt-px text-right font-mono text-xs leading-5 text-ink-faint">{i + 1}</span>
              {isExpect(s) && <Eye size={14} aria-label="Expected:" className="mt-[3px] shrink-0 text-dusk" />}
              <Sentence pieces={sentence(app, soFar, s)} className="flex-1 text-ink-soft" />
              <button
                type="button"
                aria-label={`Leave step ${i + 1} out of the scene`}
                title="Leave this out of the scene"
                onClick={() => void engine?.forget(s.id)}
                className="grid size-5 shrink-0 place-items-center rounded-md text-ink-soft opacity-0 group-hover:opacity-100 hover:bg-sunk focus-visible:opacity-100"
              >
                <X size={12} aria-hidden />
              </button>
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}
