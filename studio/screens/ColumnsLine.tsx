import type { Element } from '../../core/app/schema.ts';
import { Line } from '../ui/controls.tsx';
import { NumberBox } from '../ui/TypedBox.tsx';
import { useElementEdit } from './useElementEdit.ts';

type Grid = Extract<Element, { kind: 'box' | 'list' }>;

/** How many stand side by side in a grid, where the maker says so: on a phone, and on a wide screen. */
export function ColumnsLine({ element }: { element: Grid }) {
  const set = useElementEdit<Grid>(element);
  if (element.runs !== 'grid') return null;
  return (
    <Line label="Columns">
      <NumberBox
        label="Columns on a phone"
        title="Columns on a phone"
        className="!w-18"
        placeholder="phone"
        optional
        whole
        least={1}
        most={6}
        value={element.columns}
        onChange={(n) => set('columns', n)}
      />
      <NumberBox
        label="Columns on a wide screen"
        title="Columns on a wide screen"
        className="!w-18"
        placeholder="wide"
        optional
        whole
        least={1}
        most={12}
        value={element.wideColumns}
        onChange={(n) => set('wideColumns', n)}
      />
    </Line>
  );
}
