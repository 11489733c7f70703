import JsBarcode from 'jsbarcode';
import { useMemo } from 'react';
import type { CodeProps } from './view-square.tsx';

/** Light before and behind the bars, in bars, as scanners want it. */
const QUIET = 10;
/** More letters make bars that no phone can tell apart. */
const MOST = 48;

/** A bar code (Code 128, ISO/IEC 15417), with its letters below. */
export default function BarCode({ words, label, size }: CodeProps) {
  const bars = useMemo(() => barsOf(words), [words]);
  if (!bars)
    return (
      <p className="k-empty">
        {words.length > MOST ? 'This is too long for a bar code.' : 'A bar code holds plain letters and digits only.'}
      </p>
    );
  const width = bars.length + 2 * QUIET;
  const height = Math.max(24, Math.min(60, width * 0.35));
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: Math.max(size, width) }}
      role="img"
      aria-label={label ? `Bar code: ${label}` : `Bar code that says ${words}`}
    >
      <rect width={width} height={height} fill="#fff" />
      <path
        d={[...bars].map((b, i) => (b === '1' ? `M${i + QUIET} 3h1v${height - 14}h-1z` : '')).join('')}
        fill="#000"
        shapeRendering="crispEdges"
      />
      <text x={width / 2} y={height - 3} fontSize={7} textAnchor="middle" fontFamily="monospace" fill="#000">
        {words}
      </text>
    </svg>
  );
}

/** The bars and gaps as ones and zeros; null for what the code cannot hold. */
function barsOf(words: string): string | null {
  if (words.length > MOST) return null;
  const made: { encodings?: { data: string }[] } = {};
  try {
    JsBarcode(made, words, { format: 'CODE128' });
  } catch {
    return null;
  }
  return made.encodings?.map((e) => e.data).join('') ?? null;
}
