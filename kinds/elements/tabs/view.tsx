import { useId, useRef, useState, type KeyboardEvent } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { ElementView, sizeOf } from '../../../player/ElementView.tsx';
import type { tabs } from './definition.ts';
import './tabs.css';

/** How far keys go along the tabs (ARIA Authoring Practices, tabs). */
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };

/** Names to choose a leaf by, and the chosen one below. */
export default function TabsView({ e }: { e: Drawn<typeof tabs> }) {
  const [chosen, setChosen] = useState('');
  const id = useId();
  const bar = useRef<HTMLDivElement>(null);
  // Leaves that are not to be seen have no tab.
  const leaves = e.children.map((key) => ({ key, ...e.names.find((n) => key.endsWith(n.id)) }));
  const at = Math.max(
    0,
    leaves.findIndex((l) => l.key === chosen),
  );
  const keys = (k: KeyboardEvent): void => {
    const to = k.key === 'Home' ? 0 : k.key === 'End' ? leaves.length - 1 : at + (STEPS[k.key] ?? 0);
    const leaf = leaves[(to + leaves.length) % leaves.length];
    if (!leaf || to === at) return;
    k.preventDefault();
    setChosen(leaf.key);
    bar.current?.querySelectorAll<HTMLElement>('button')[leaves.indexOf(leaf)]?.focus();
  };
  const shown = leaves[at];
  return (
    <section className="k-leaves" data-e={e.id} style={sizeOf(e)}>
      <div className="k-leaves-bar" role="tablist" data-look={e.look} ref={bar} onKeyDown={keys}>
        {leaves.map((l, i) => (
          <button
            key={l.key}
            type="button"
            role="tab"
            id={`${id}${i}`}
            data-leaf={l.id}
            aria-selected={i === at}
            aria-controls={`${id}leaf`}
            tabIndex={i === at ? 0 : -1}
            onClick={() => setChosen(l.key)}
          >
            {l.name}
          </button>
        ))}
      </div>
      {shown && (
        <div role="tabpanel" id={`${id}leaf`} aria-labelledby={`${id}${at}`} className="k-leaf" key={shown.key}>
          <ElementView k={shown.key} />
        </div>
      )}
    </section>
  );
}
