import { lazy } from 'react';
import type { InputProps } from '../../../player/inputs.ts';
import { PhotoInput } from '../../../player/PhotoInput.tsx';

// The sheet to draw on comes where one is drawn on.
const DrawingPad = lazy(async () => ({ default: (await import('../../../player/DrawingPad.tsx')).DrawingPad }));

export default function PictureInput({ e, id, value, set }: InputProps) {
  const held = String(value ?? '');
  if (e.as === 'drawing') return <DrawingPad id={id} value={held} behind={e.behind} set={set} />;
  return <PhotoInput id={id} value={held} set={set} />;
}
