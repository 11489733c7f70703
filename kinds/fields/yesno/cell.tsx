import type { CellProps } from '../../../studio/data/CellView.tsx';

export default function YesNoCell({ cell }: CellProps) {
  return cell.raw === null ? null : <span className={cell.raw ? 'text-kelp' : 'text-ink-faint'}>{cell.shown}</span>;
}
