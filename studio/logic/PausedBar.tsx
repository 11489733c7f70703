import { Play, Square, StepForward } from 'lucide-react';
import { useNavigate } from 'react-router';
import type { Step } from '../../core/app/schema.ts';
import { findStep } from '../../core/app/steps.ts';
import type { PausedRun } from '../engine/events.ts';
import { useApp, useEngine } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

/** Does a step stand among these? */
export const walkHas = (steps: readonly Step[], id: string): boolean => findStep(steps as Step[], id) !== null;

/** A run stands before a step: goes on by one, to the next stop or its end, or is ended. */
export function PausedBar({ paused, isHere, base }: { paused: PausedRun; isHere: boolean; base: string }) {
  const app = useApp();
  const engine = useEngine();
  const navigate = useNavigate();
  const other = isHere ? undefined : app.routines.find((r) => walkHas(r.steps, paused.step));
  const goOn = (how: 'step' | 'go on' | 'end') => (): void => void engine.runs.goOn(paused.run, how);
  return (
    <div
      role="status"
      className="mb-2 flex flex-wrap items-center gap-2 rounded-card border border-line bg-saffron-wash px-3 py-2"
    >
      <span className="min-w-0 flex-1">
        {isHere ? (
          'A run stands before the marked step.'
        ) : (
          <>
            A run stands in{' '}
            <button
              type="button"
              className="font-semibold underline underline-offset-2"
              onClick={() => other && void navigate(`${base}/${other.id}`)}
            >
              {other?.name ?? 'a routine that is gone'}
            </button>
            .
          </>
        )}
        {paused.behind > 0 && (
          <span className="text-ink-soft">
            {' '}
            {paused.behind === 1 ? 'Another run waits' : `${paused.behind} other runs wait`} behind it.
          </span>
        )}
      </span>
      <Button small icon={StepForward} onClick={goOn('step')}>
        Next step
      </Button>
      <Button small icon={Play} onClick={goOn('go on')}>
        Go on
      </Button>
      <Button small icon={Square} onClick={goOn('end')}>
        End it
      </Button>
    </div>
  );
}
