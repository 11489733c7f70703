import QRCode from 'qrcode';
import { useMemo } from 'react';

/** What a drawn code is given: what it says, what stands below it, how wide it is in pixels. */
export interface CodeProps {
  words: string;
  label: string;
  size: number;
}

/** Light around the dark modules, as scanners want it. */
const QUIET = 4;

/** A QR code (ISO/IEC 18004). */
export default function SquareCode({ words, label, size }: CodeProps) {
  const drawn = useMemo(() => modulesOf(words), [words]);
  if (!drawn) return <p className="k-empty">This is too long for a QR code.</p>;
  return (
    <svg
      viewBox={`0 0 ${drawn.size} ${drawn.size}`}
      style={{ width: size }}
      role="img"
      aria-label={label ? `QR code: ${label}` : `QR code that says ${words}`}
    >
      <rect width={drawn.size} height={drawn.size} fill="#fff" />
      <path d={drawn.path} fill="#000" shapeRendering="crispEdges" />
    </svg>
  );
}

/** The dark modules as one path; null for more than a code can hold. */
function modulesOf(words: string): { path: string; size: number } | null {
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
