import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { divider } from './definition.ts';
import './divider.css';

export default function DividerView({ e }: { e: Drawn<typeof divider> }) {
  return <hr className="k-divider" data-e={e.id} data-look={e.look} style={sizeOf(e)} />;
}
