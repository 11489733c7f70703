import { lazy, Suspense, type CSSProperties } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { useForm, columnsIn, usePlayer } from '../../../player/context.ts';
import { Inside, sizeOf, tappable } from '../../../player/ElementView.tsx';
import type { box } from './definition.ts';

const Behind = lazy(() => import('./view-behind.tsx'));

const px = (lengths: number | readonly number[]): string =>
  [lengths]
    .flat()
    .map((n) => `${n}px`)
    .join(' ');

export default function BoxView({ e }: { e: Drawn<typeof box> }) {
  const { tap, room } = usePlayer();
  const columns = columnsIn(e, room);
  const form = useForm();
  const press = e.tap === 'save' && form ? form.save : e.tap === 'act' ? () => tap(e.key, e.id) : undefined;
  const style: CSSProperties = {
    ...sizeOf(e),
    // Room for a finger, unless its maker wants it otherwise.
    ...(press && typeof e.height !== 'number' && e.stands?.leastHeight === undefined && { minHeight: 44 }),
    gap: `calc(${e.gap}px * var(--k-density))`,
    padding: px(e.inside),
    ...(e.corners && { borderRadius: px(e.corners) }),
    ...(e.runs === 'grid' && columns && { gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }),
  };
  return (
    <div
      className="k-box"
      data-e={e.id}
      data-long={e.long === 'act' ? e.key : undefined}
      data-runs={e.runs}
      data-surface={e.surface}
      data-across={e.across}
      data-along={e.along}
      data-behind={e.behind ? true : undefined}
      data-edge={e.edge || undefined}
      data-raised={e.raised || undefined}
      data-clip={e.clip || undefined}
      style={style}
      {...tappable(press)}
    >
      {e.behind && (
        <Suspense>
          <Behind address={e.behind} />
        </Suspense>
      )}
      <Inside of={e.children} />
    </div>
  );
}
