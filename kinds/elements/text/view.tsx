import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { text } from './definition.ts';

export default function TextView({ e }: { e: Drawn<typeof text> }) {
  return (
    <p
      className="k-text"
      data-e={e.id}
      data-style={e.style}
      data-colour={e.colour}
      data-lines={e.lines}
      data-select={e.select || undefined}
      data-align={e.align}
      style={{ ...sizeOf(e), WebkitLineClamp: e.lines }}
    >
      {e.words}
    </p>
  );
}
