import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import type { icon } from './definition.ts';
import './icon.css';

export default function IconView({ e }: { e: Drawn<typeof icon> }) {
  const Icon = iconOf(e.icon);
  return (
    <span className="k-icon" data-e={e.id} data-colour={e.colour} data-ground={e.ground} style={sizeOf(e)} aria-hidden>
      {Icon && <Icon size={e.size} />}
    </span>
  );
}
