import { lazy, Suspense } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { code } from './definition.ts';
import './code.css';

// Each kind of code comes where one is shown.
const Square = lazy(() => import('./view-square.tsx'));
const Bars = lazy(() => import('./view-bars.tsx'));

export default function CodeView({ e }: { e: Drawn<typeof code> }) {
  const Code = e.form === 'bars' ? Bars : Square;
  return (
    <figure className="k-code" data-e={e.id} style={{ ...sizeOf(e), maxWidth: '100%' }}>
      {e.words ? (
        <Suspense fallback={<p className="k-empty">One moment</p>}>
          <Code words={e.words} label={e.label} size={e.size} />
        </Suspense>
      ) : (
        <p className="k-empty">There is nothing to show yet.</p>
      )}
      {e.label && <figcaption>{e.label}</figcaption>}
    </figure>
  );
}
