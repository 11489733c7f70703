import { Volume2 } from 'lucide-react';
import { KeptCell } from '../../../studio/data/KeptCell.tsx';
import type { CellProps } from '../../../studio/data/CellView.tsx';

export default function SoundCell({ cell }: CellProps) {
  return <KeptCell icon={Volume2} name={cell.shown} />;
}
