import type { InputProps } from '../../../player/inputs.ts';

export default function YesNoInput({ e, id, value, set }: InputProps) {
  return (
    <label className="k-switch" htmlFor={id}>
      <input id={id} type="checkbox" role="switch" checked={value === true} onChange={(ev) => set(ev.target.checked)} />
      <span>{e.label}</span>
    </label>
  );
}
