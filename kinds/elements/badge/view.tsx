import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { badge } from './definition.ts';
import './badge.css';

export default function BadgeView({ e }: { e: Drawn<typeof badge> }) {
  if (!e.words) return null;
  return (
    <span className="k-badge" data-e={e.id} data-tone={e.tone} style={sizeOf(e)}>
      {e.words}
    </span>
  );
}
