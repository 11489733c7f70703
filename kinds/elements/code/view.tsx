import QRCode from 'qrcode';
import { useMemo } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { code } from './definition.ts';
import './code.css';

/** Light around the dark modules, as scanners want it. */
const QUIET = 4;

export default function CodeView({ e }: { e: Drawn<typeof code> }) {
  const drawn = useMemo(() => modulesOf(e.words), [e.words]);
  return (
    <figure className="k-code" data-e={e.id} style={{ ...sizeOf(e), maxWidth: '100%' }}>
      {drawn ? (
        <svg
          viewBox={`0 0 ${drawn.size} ${drawn.size}`}
          style={{ width: e.size }}
          role="img"
          aria-label={e.label ? `QR code: ${e.label}` : `QR code that says ${e.words}`}
        >
          <rect width={drawn.size} height={drawn.size} fill="#fff" />
          <path d={drawn.path} fill="#000" shapeRendering="crispEdges" />
        </svg>
      ) : (
        <p className="k-empty">{e.words ? 'This is too long for a QR code.' : 'There is nothing to show yet.'}</p>
      )}
      {e.label && <figcaption>{e.label}</figcaption>}
    </figure>
  );
}

/** The dark modules as one path; null for nothing, and for more than a code can hold. */
function modulesOf(words: string): { path: string; size: number } | null {
  if (!words) return null;
  try {
    const { modules } = QRCode.create(words, { errorCorrectionLevel: 'M' });
    let path = '';
    for (let y = 0; y < modules.size; y++)
      for (let x = 0; x < modules.size; x++) if (modules.get(y, x)) path += `M${x + QUIET} ${y + QUIET}h1v1h-1z`;
    return { path, size: modules.size + 2 * QUIET };
  } catch {
    return null;
  }
}
