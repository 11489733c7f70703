import { walkSteps } from '../../core/document/walk.ts';
import type { Routine } from '../../core/app/schema.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';

/** May a run of it wait, so that a release can come meanwhile? */
function mayWait(routine: Routine): boolean {
  let waits = false;
  walkSteps(routine.steps, (s) => {
    waits ||= s.do === 'run' || (stepKinds.get(s.do)?.lasts ?? false);
  });
  return waits;
}

/** What a routine does in what seldom happens, each as a sentence with a choice. */
export function RoutineChoices({
  routine,
  isTapped,
  change,
}: {
  routine: Routine;
  /** A tap starts it. */
  isTapped: boolean;
  change(said: string, edit: (r: Routine) => void): void;
}) {
  return (
    <>
      {isTapped && (
        <p>
          A second tap while it runs{' '}
          <ChoiceChip
            name="A second tap while it runs"
            tone="plain"
            value={routine.overlaps ? 'again' : 'nothing'}
            choices={[
              { value: 'nothing', label: 'does nothing' },
              { value: 'again', label: 'starts it again' },
            ]}
            onChange={(v) =>
              change(`Changed what a second tap on ${routine.name} does`, (r) => {
                if (v === 'again') r.overlaps = true;
                else delete r.overlaps;
              })
            }
          />
          .
        </p>
      )}
      {mayWait(routine) && (
        <p>
          When a release removes the step it waits at, it{' '}
          <ChoiceChip
            name="When a release removes the step it waits at"
            tone="plain"
            value={routine.ifStepGone ?? 'end'}
            choices={[
              { value: 'end', label: 'ends, and says so' },
              { value: 'next', label: 'goes on with the next step that is still there' },
            ]}
            onChange={(v) =>
              change(`Changed where ${routine.name} goes when its step is removed`, (r) => {
                if (v === 'next') r.ifStepGone = 'next';
                else delete r.ifStepGone;
              })
            }
          />
          .
        </p>
      )}
    </>
  );
}
