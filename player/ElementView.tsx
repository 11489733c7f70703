import { memo, Suspense, type CSSProperties, type KeyboardEvent, type MouseEvent } from 'react';
import type { Size } from '../core/document/pieces.ts';
import type { DrawnCommon } from '../core/screens/element.ts';
import { useNode, usePlayer } from './context.ts';
import { viewOf } from './views.ts';

/** Draws the element at a key by the view of its kind. `data-e` lets the studio find it; there is no editing code here. */
export const ElementView = memo(function ElementView({ k }: { k: string }) {
  const e = useNode(k);
  const { room } = usePlayer();
  const { seenOn } = e?.stands ?? {};
  const isThere = !seenOn || (seenOn === 'narrow') === (room === 'narrow');
  const View = e && isThere ? viewOf(e.kind) : null;
  return e && View ? (
    <Suspense fallback={null}>
      <View e={e} />
    </Suspense>
  ) : null;
});

/** Draws what stands in a slot. */
export const Inside = ({ of }: { of: readonly string[] }) => of.map((k) => <ElementView key={k} k={k} />);

/** Size of an element as CSS: fit, fill, or a fixed number of pixels. */
export function sizeOf({
  width,
  height,
  stands = {},
}: Pick<DrawnCommon, 'width' | 'height' | 'stands'>): CSSProperties {
  const { share = 1, covers } = stands;
  const length = (size: Size | undefined): string | number | undefined =>
    size === 'fit' || size === 'fill' ? undefined : size;
  return {
    // Which way the box around runs decides what comes of these: see player.css.
    ...(width === 'fill'
      ? { '--k-share-x': `${share} 1 0`, '--k-least-x': 0 }
      : width && { '--k-self-x': 'flex-start' }),
    ...(height === 'fill' && {
      '--k-share-y': `${share} 1 0`,
      '--k-least-y': 'min-content',
      '--k-self-y': 'stretch',
    }),
    width: length(width),
    height: length(height),
    minWidth: stands.leastWidth,
    maxWidth: stands.mostWidth,
    minHeight: stands.leastHeight,
    maxHeight: stands.mostHeight,
    margin: stands.outer,
    opacity: covers && covers / 100,
  };
}

const CONTROLS =
  'button, a, input, textarea, select, label, summary, audio, video, [role=button], [contenteditable=true]';

/** Was a control inside this box pressed? Then the box is not. */
function isOnControl({ target, currentTarget }: MouseEvent<Element>): boolean {
  const control = (target as Element).closest(CONTROLS);
  return control !== null && control !== currentTarget && currentTarget.contains(control);
}

/** What makes a plain box a control for fingers, keyboard and assistive technology; what stands in it is pressed by itself. */
export function tappable(press: (() => void) | undefined) {
  if (!press) return {};
  return {
    role: 'button',
    tabIndex: 0,
    onClick: (e: MouseEvent<Element>) => {
      if (!isOnControl(e)) press();
    },
    onKeyDown: (k: KeyboardEvent) => {
      if (k.key !== 'Enter' && k.key !== ' ') return;
      if (k.target !== k.currentTarget) return;
      k.preventDefault();
      press();
    },
  };
}
