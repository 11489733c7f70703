import { clsx } from 'clsx';
import type { Piece } from '../../core/scenes/sentence.ts';

/** A step of a scene as people read it. */
export function Sentence({ pieces, className }: { pieces: readonly Piece[]; className?: string }) {
  return (
    <span className={clsx('min-w-0 break-words', className)}>
      {pieces.map(({ text, is }, i) => (
        <span
          key={i}
          className={clsx(is === 'who' && 'font-semibold text-dusk', is === 'name' && 'font-semibold text-ink')}
        >
          {text}
        </span>
      ))}
    </span>
  );
}
