import { Check } from 'lucide-react';
import { useState } from 'react';
import type { RunTrace } from '../../core/routines/run.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { tellProblem } from '../state/saving.ts';
import { Button } from '../ui/controls.tsx';

/** So many changes are listed; the others are counted. */
const SHOWN = 8;

/** What a run that was tried on a copy would change, and the way to do that for real. */
export function TriedCard({ routine, tried }: { routine: string; tried: NonNullable<RunTrace['tried']> }) {
  const engine = useEngine();
  const noteEdit = useStudio((s) => s.noteEdit);
  const isThere = useStudio((s) => s.past.some((e) => e.tried === tried.id));
  const isBack = useStudio((s) => s.future.some((e) => e.tried === tried.id));
  const [stage, setStage] = useState<'tried' | 'doing' | 'done'>(isThere || isBack ? 'done' : 'tried');
  const all = [...tried.changes.map((c) => c.said), ...tried.sends];
  const doIt = async (): Promise<void> => {
    setStage('doing');
    try {
      const written = await engine.runs.doTried(tried.id);
      if (written.back.length) noteEdit(`Did ${routine} for real`, written, tried.id);
      setStage('done');
    } catch (e) {
      tellProblem((e as Error).message);
      setStage('tried');
    }
  };
  if (all.length === 0)
    return (
      <p className="mb-2 rounded-card border border-line bg-sunk/50 px-3 py-2 text-ink-soft">
        Tried on a copy of the records. It would change nothing and send nothing.
      </p>
    );
  return (
    <section aria-label="What it would change" className="mb-2 rounded-card border border-line bg-sunk/50 px-3 py-2">
      <div className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <p className="font-semibold">
            {stage !== 'done'
              ? 'Tried on a copy of the records. For real, this would happen:'
              : isBack
                ? `Done for real, and undone.${tried.sends.length ? ' What was sent stays sent.' : ''}`
                : `Done for real.${isThere ? ' Undo, in the bar above, takes back the changes of records.' : ''}`}
          </p>
          <ul className="mt-1 text-ink-soft">
            {all.slice(0, SHOWN).map((said, i) => (
              <li key={i} className="[overflow-wrap:anywhere]">
                {said}
              </li>
            ))}
            {all.length > SHOWN && <li>and {(all.length - SHOWN).toLocaleString('en-GB')} more</li>}
          </ul>
        </div>
        {stage !== 'done' && (
          <Button icon={Check} disabled={stage === 'doing'} onClick={() => void doIt()}>
            Do it for real
          </Button>
        )}
      </div>
    </section>
  );
}
