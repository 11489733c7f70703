import type { CSSProperties } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { Inside, sizeOf, tappable } from '../../../player/ElementView.tsx';
import { useForm } from '../../../player/form.ts';
import type { box } from './definition.ts';

export default function BoxView({ e }: { e: Drawn<typeof box> }) {
  const { tap } = usePlayer();
  const form = useForm();
  const style: CSSProperties = { ...sizeOf(e), gap: `calc(${e.gap}px * var(--k-density))`, padding: e.inside };
  const press = e.tap === 'save' && form ? form.save : e.tap === 'act' ? () => tap(e.key, e.id) : undefined;
  return (
    <div
      className="k-box"
      data-e={e.id}
      data-runs={e.runs}
      data-surface={e.surface}
      data-across={e.across}
      style={style}
      {...tappable(press)}
    >
      <Inside of={e.children} />
    </div>
  );
}
