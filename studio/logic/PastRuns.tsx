import { timeTaken } from '../ui/time-taken.ts';
import { RotateCcw } from 'lucide-react';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { RunTrace } from '../../core/routines/run.ts';
import type { PastRun } from '../state/trace.ts';
import { Button } from '../ui/controls.tsx';

const said = ({ at, run }: PastRun): string =>
  [at.toLocaleTimeString('en-GB'), run.given, run.tried ? 'tried' : '', run.error === undefined ? '' : 'stopped']
    .filter(Boolean)
    .join(' · ');

/** Which of the latest runs stands beside the steps, and the way to run it again. */
export function PastRuns({
  past,
  shown,
  onShow,
  again,
}: {
  past: readonly PastRun[];
  shown: PastRun | undefined;
  onShow(key: number): void;
  again(run: RunTrace): void;
}) {
  if (!shown) return null;
  return (
    <div className="mb-2 flex items-center gap-2 text-sm text-ink-soft">
      <span>Values beside the steps are from the run of</span>
      <ChoiceChip
        name="Run"
        value={shown.key}
        choices={past.map((p) => ({ value: p.key, label: said(p), hint: timeTaken(p.run.ms) }))}
        onChange={onShow}
      />
      <Button small icon={RotateCcw} onClick={() => again(shown.run)}>
        Try it again
      </Button>
    </div>
  );
}
