import type { InputProps } from '../../../player/inputs.ts';

export default function LongTextInput({ id, value, set }: InputProps) {
  return <textarea id={id} rows={4} value={String(value ?? '')} onChange={(ev) => set(ev.target.value || null)} />;
}
