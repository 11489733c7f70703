import { readPlanText } from '../../../core/fields/read-place.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { LineInput } from '../../../player/LineInput.tsx';
import './input.css';

export default function PlanInput(props: InputProps) {
  // Without a picture of the plan its two numbers are typed.
  return props.e.plan ? <OnPlan {...props} /> : <LineInput {...props} />;
}

function OnPlan({ e, id, value, set }: InputProps) {
  const spot = readPlanText(String(value ?? ''));
  const at = (x: number, y: number): void => {
    const within = (n: number): number => Math.round(Math.min(1, Math.max(0, n)) * 1000) / 1000;
    set(`${within(x)},${within(y)}`);
  };
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-0.02, 0],
    ArrowRight: [0.02, 0],
    ArrowUp: [0, -0.02],
    ArrowDown: [0, 0.02],
  };
  return (
    <button
      id={id}
      type="button"
      className="k-on-plan"
      aria-label={
        spot
          ? `${e.label}: ${Math.round(spot.x * 100)} % across, ${Math.round(spot.y * 100)} % down. Arrow keys move it.`
          : `${e.label}: tap where it is`
      }
      onClick={(ev) => {
        if (ev.detail === 0) return; // pressed by a key
        const box = ev.currentTarget.getBoundingClientRect();
        at((ev.clientX - box.left) / box.width, (ev.clientY - box.top) / box.height);
      }}
      onKeyDown={(ev) => {
        const step = steps[ev.key];
        if (!step) return;
        ev.preventDefault();
        at((spot?.x ?? 0.5) + step[0], (spot?.y ?? 0.5) + step[1]);
      }}
    >
      <img src={e.plan!} alt="" draggable={false} />
      {spot && <span className="k-spot" aria-hidden style={{ left: `${spot.x * 100}%`, top: `${spot.y * 100}%` }} />}
    </button>
  );
}
