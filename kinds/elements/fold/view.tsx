import { useEffect, useState } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { Inside, sizeOf } from '../../../player/ElementView.tsx';
import type { fold } from './definition.ts';
import './fold.css';

/** Words that open what they hold, and shut it again. */
export default function FoldView({ e }: { e: Drawn<typeof fold> }) {
  const [open, setOpen] = useState(e.begins === 'open');
  useEffect(() => setOpen(e.begins === 'open'), [e.begins]);
  return (
    <details
      className="k-fold"
      data-e={e.id}
      style={sizeOf(e)}
      open={open}
      onToggle={(ev) => setOpen(ev.currentTarget.open)}
    >
      <summary>{e.words || 'More'}</summary>
      <div>
        <Inside of={e.children} />
      </div>
    </details>
  );
}
