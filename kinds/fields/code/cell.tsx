import type { CellProps } from '../../../studio/data/CellView.tsx';

export default function CodeCell({ cell }: CellProps) {
  return <span className="truncate font-mono text-[12px]">{cell.shown}</span>;
}
