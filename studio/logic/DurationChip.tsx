import { ValueChip } from '../chips/ValueChip.tsx';
import type { FormulaPlace } from '../chips/place.ts';

/** What is typed is read as a duration: "10 min", "2 days". */
const TIME = { id: 'f_time0000', name: 'time', type: 'duration' as const };

/** How long something takes at most, or is waited. */
export function DurationChip(props: {
  name: string;
  value: string;
  place: FormulaPlace;
  onChange(time: string): void;
}) {
  return <ValueChip {...props} empty="choose how long" field={TIME} />;
}
