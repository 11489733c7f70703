import { useRef, useState } from 'react';
import { readPlanText } from '../../../core/fields/read-place.ts';
import { TextEditor, type EditorProps } from '../../../studio/data/CellEditor.tsx';
import { EditorCard } from '../../../studio/data/EditorCard.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { Button } from '../../../studio/ui/controls.tsx';

/** A place pressed on the plan; two numbers where there is no plan yet. */
export default function PlanEditor(props: EditorProps) {
  return props.field.plan ? <OnPlan {...props} plan={props.field.plan} /> : <TextEditor {...props} />;
}

/** A place on a plan: pressed on its picture, or moved with the arrow keys. */
function OnPlan({ field, cell, onKeep, onDone, plan }: EditorProps & { plan: string }) {
  const app = useApp();
  const file = app.files.find((f) => `file:${f.id}` === plan);
  const source = file ? `data:${file.type};base64,${file.data}` : plan;
  const start = typeof cell.raw === 'string' ? readPlanText(cell.raw) : null;
  const [spot, setSpot] = useState(start);
  const kept = useRef(false);
  const done = (): void => {
    if (kept.current) return;
    kept.current = true;
    const next = spot ? `${spot.x},${spot.y}` : null;
    if (next !== cell.raw) onKeep(next);
    onDone(0, 0);
  };
  const at = (x: number, y: number): void => {
    const within = (n: number): number => Math.round(Math.min(1, Math.max(0, n)) * 1000) / 1000;
    setSpot({ x: within(x), y: within(y) });
  };
  const move = (dx: number, dy: number): void => at((spot?.x ?? 0.5) + dx, (spot?.y ?? 0.5) + dy);
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-0.01, 0],
    ArrowRight: [0.01, 0],
    ArrowUp: [0, -0.01],
    ArrowDown: [0, 0.01],
  };
  return (
    <EditorCard label={field.name} onDone={done} width={300}>
      <button
        type="button"
        autoFocus
        aria-label={`Place on the plan: ${spot ? `${Math.round(spot.x * 100)} % across, ${Math.round(spot.y * 100)} % down` : 'none'}. Arrow keys move it.`}
        className="relative block w-full overflow-hidden rounded-md border border-line"
        onClick={(e) => {
          if (e.detail === 0) return; // pressed by a key
          const box = e.currentTarget.getBoundingClientRect();
          at((e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
        }}
        onKeyDown={(e) => {
          const step = steps[e.key];
          if (!step) return;
          e.preventDefault();
          e.stopPropagation();
          move(step[0], step[1]);
        }}
      >
        <img src={source} alt="" className="block w-full" draggable={false} />
        {spot && (
          <span
            aria-hidden
            className="absolute size-3.5 -translate-1/2 rounded-full border-2 border-white bg-persimmon"
            style={{ left: `${spot.x * 100}%`, top: `${spot.y * 100}%` }}
          />
        )}
      </button>
      <div className="mt-1.5 flex justify-between">
        <Button small look="quiet" onClick={() => setSpot(null)}>
          No place
        </Button>
        <Button small onClick={done}>
          Keep it
        </Button>
      </div>
    </EditorCard>
  );
}
