import { memo, Suspense, type CSSProperties, type KeyboardEvent } from 'react';
import type { DrawnCommon } from '../core/screens/element.ts';
import { useNode } from './context.ts';
import { viewOf } from './views.ts';

/** Draws the element at a key by the view of its kind. `data-e` lets the studio find it; there is no editing code here. */
export const ElementView = memo(function ElementView({ k }: { k: string }) {
  const e = useNode(k);
  const View = e && viewOf(e.kind);
  return View ? (
    <Suspense fallback={null}>
      <View e={e} />
    </Suspense>
  ) : null;
});

/** Draws what stands in a slot. */
export const Inside = ({ of }: { of: readonly string[] }) => of.map((k) => <ElementView key={k} k={k} />);

/** Size of an element as CSS: fit, fill, or a fixed number of pixels. */
export function sizeOf(e: Pick<DrawnCommon, 'width' | 'height'>): CSSProperties {
  const css: CSSProperties = {};
  if (e.width === 'fill') Object.assign(css, { flex: '1 1 0', minWidth: 0 });
  else if (e.width === 'fit') css.alignSelf = 'flex-start';
  else if (typeof e.width === 'number') Object.assign(css, { width: e.width, flex: 'none' });
  if (typeof e.height === 'number') css.height = e.height;
  return css;
}

/** What makes a plain box a control for fingers, keyboard and assistive technology. */
export function tappable(press: (() => void) | undefined) {
  if (!press) return {};
  return {
    role: 'button',
    tabIndex: 0,
    onClick: press,
    onKeyDown: (k: KeyboardEvent) => {
      if (k.key !== 'Enter' && k.key !== ' ') return;
      if (k.target !== k.currentTarget) return;
      k.preventDefault();
      press();
    },
  };
}
