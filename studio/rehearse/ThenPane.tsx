import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { stepNumber } from '../../core/app/scene-edits.ts';
import type { App } from '../../core/app/schema.ts';
import type { Scene } from '../../core/app/scene-schema.ts';
import type { StepResult } from '../../core/scenes/result.ts';
import { roomTime } from './ClockBar.tsx';
import { stillsOf } from './scenes.ts';
import { focusOf } from './step-picture.ts';
import { StillPhone } from './StillPhone.tsx';

/** Between phones, in pixels. */
const GAP = 12;

/** The phones as they were after a step, and what is otherwise than expected. */
export function ThenPane({
  app,
  scene,
  step,
  result,
  nth,
  ids,
}: {
  app: App;
  scene: Scene;
  step: string | null;
  result: StepResult | null;
  /** The playing whose pictures are shown; 0 before the first. */
  nth: number;
  ids: Readonly<Record<string, string>>;
}) {
  const at = step === null ? -1 : scene.steps.findIndex((s) => s.id === step);
  const { data: stills } = useQuery({
    queryKey: ['scene stills', scene.id, step, nth],
    queryFn: () => stillsOf(scene.id, step),
    gcTime: 0,
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const chosen = scene.steps[at];
  const focus = chosen && focusOf(chosen, ids);
  const shown = stills ?? [];
  const pane = useRef<HTMLElement>(null);
  const [room, setRoom] = useState(340);
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => e && setRoom(e.contentRect.width));
    if (pane.current) watch.observe(pane.current);
    return () => watch.disconnect();
  }, []);
  // Two beside each other, or one as large as there is room for.
  const width = Math.floor(shown.length > 1 ? (room - GAP) / 2 : Math.min(300, room));
  return (
    <aside
      ref={pane}
      aria-label="Then"
      className="thin-scroll w-[372px] shrink-0 overflow-auto border-l border-line bg-sunk px-4 py-3 max-[1100px]:w-[300px]"
    >
      <h2 className="text-lg">
        {chosen ? `After step ${stepNumber(scene, chosen.id)}` : 'At the beginning'}
        {result && <span className="ml-2 font-text text-sm font-normal text-ink-soft">{roomTime(result.at)}</span>}
      </h2>
      {result?.did === 'failed' && <Difference result={result} />}
      {result?.remarks.map((r) => (
        <p key={r} className="card mt-2 px-3.5 py-2 text-sm text-saffron">
          {r}
        </p>
      ))}
      <div className="mt-3 flex flex-wrap gap-3">
        {shown.map(({ who, name, isOpen, isShut, still }) => (
          <figure key={who} className="min-w-0" style={{ width }}>
            <figcaption className="mb-1 truncate text-sm font-semibold text-dusk">{name}</figcaption>
            {still && isOpen && !isShut ? (
              <StillPhone
                app={app}
                still={still}
                width={width}
                focus={chosen && 'who' in chosen && chosen.who === who ? focus : undefined}
              />
            ) : (
              <p className="rounded-lg border border-line bg-raised px-3 py-6 text-center text-sm text-ink-soft">
                {isShut ? 'Nobody has signed in.' : 'The phone is off.'}
              </p>
            )}
          </figure>
        ))}
      </div>
      {shown.length === 0 && (
        <p className="mt-3 text-ink-soft">
          {result?.did === 'not reached'
            ? 'The scene has not come to this step.'
            : result?.did === 'left out'
              ? 'This step is left out.'
              : 'What the phones showed is here once the scene was played.'}
        </p>
      )}
    </aside>
  );
}

function Difference({ result }: { result: StepResult }) {
  const { said, expected, actual, nearest, why } = result;
  return (
    <section aria-label="The difference" className="card mt-2 space-y-2 px-3.5 py-3">
      <p className="font-semibold break-words text-persimmon-deep">{said}</p>
      {why && <p className="break-words">{why}</p>}
      {expected !== undefined && (
        <dl className="grid grid-cols-[70px_1fr] gap-x-2 gap-y-1 text-sm">
          <dt className="text-ink-soft">Expected</dt>
          <dd className="rounded-md bg-kelp-wash px-2 py-0.5 break-words">{expected}</dd>
          {actual !== undefined && (
            <>
              <dt className="text-ink-soft">Actual</dt>
              <dd className="rounded-md bg-persimmon-wash px-2 py-0.5 break-words">{actual}</dd>
            </>
          )}
        </dl>
      )}
      {nearest && nearest.length > 0 && (
        <div className="text-sm">
          <p className="text-ink-soft">Most like it:</p>
          <ul>
            {nearest.map((n) => (
              <li key={n} className="break-words">
                {n}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}
