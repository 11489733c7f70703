import type { CellProps } from '../../../studio/data/CellView.tsx';

export default function PictureCell({ cell }: CellProps) {
  return <span className="truncate text-ink-soft">{cell.shown.replace(/^.*\//, '')}</span>;
}
