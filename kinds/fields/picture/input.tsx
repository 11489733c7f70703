import { lazy } from 'react';
import { usePlayer } from '../../../player/context.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { PhotoInput } from '../../../player/PhotoInput.tsx';

// The sheet to draw on comes where one is drawn on.
const DrawingPad = lazy(async () => ({ default: (await import('../../../player/DrawingPad.tsx')).DrawingPad }));

export default function PictureInput({ e, id, value, set }: InputProps) {
  const held = String(value ?? '');
  const { tap } = usePlayer();
  const touched = (across: number, down: number): void =>
    tap(e.key, e.id, 'drawn', { 'how far across': across, 'how far down': down });
  if (e.as === 'drawing')
    return (
      <DrawingPad id={id} value={held} behind={e.behind} set={set} onTouch={e.drawn === 'act' ? touched : undefined} />
    );
  if (e.as === 'signing') return <DrawingPad id={id} value={held} behind="" set={set} signs />;
  return <PhotoInput id={id} value={held} set={set} />;
}
