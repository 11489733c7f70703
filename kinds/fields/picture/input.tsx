import type { InputProps } from '../../../player/inputs.ts';
import { PhotoInput } from '../../../player/PhotoInput.tsx';

export default function PictureInput({ id, value, set }: InputProps) {
  return <PhotoInput id={id} value={String(value ?? '')} set={set} />;
}
