import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { space } from './definition.ts';

/** As wide as it is high, so that it keeps its room across as well as down. */
export default function SpaceView({ e }: { e: Drawn<typeof space> }) {
  return <div data-e={e.id} aria-hidden style={{ flex: 'none', width: e.room, height: e.room, ...sizeOf(e) }} />;
}
