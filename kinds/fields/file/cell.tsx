import { Paperclip } from 'lucide-react';
import { KeptCell } from '../../../studio/data/KeptCell.tsx';
import type { CellProps } from '../../../studio/data/CellView.tsx';

export default function FileCell({ cell }: CellProps) {
  return <KeptCell icon={Paperclip} name={cell.shown} />;
}
