import type { CellProps } from '../../../studio/data/CellView.tsx';

export default function PersonCell({ cell }: CellProps) {
  return <span className="truncate rounded-full bg-dusk-wash px-2 text-dusk">{cell.shown}</span>;
}
