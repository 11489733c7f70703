import type { Element } from '../../core/app/schema.ts';
import { Line } from '../ui/controls.tsx';
import { NumberBox } from '../ui/TypedBox.tsx';
import { useElementEdit } from './useElementEdit.ts';

type Grid = Extract<Element, { kind: 'box' | 'list' }>;

const PLACES = [
  ['columns', 'phone', 'Columns on a phone', 6],
  ['wideColumns', 'wide', 'Columns on a wide screen', 12],
] as const;

/** How many stand side by side in a grid, where the maker says so: on a phone, and on a wide screen. */
export function ColumnsLine({ element }: { element: Grid }) {
  const set = useElementEdit<Grid>(element);
  if (element.runs !== 'grid') return null;
  return (
    <Line label="Columns">
      {PLACES.map(([name, placeholder, label, most]) => (
        <NumberBox
          key={name}
          label={label}
          title={label}
          className="!w-18"
          placeholder={placeholder}
          optional
          whole
          least={1}
          most={most}
          value={element[name]}
          onChange={(n) => set(name, n)}
        />
      ))}
    </Line>
  );
}
