import type { InputProps } from './inputs.ts';

/** One line to type into, with the keyboard that fits its type. */
export function LineInput({ e, id, value, set }: InputProps) {
  const text = value === null ? '' : String(value);
  const { labelled: _labelled, ...keyboard } = e.phone ?? {};
  return (
    <input
      id={id}
      type="text"
      {...keyboard}
      // This kind of input shows minutes; what is kept may have seconds, which stay when it is not touched.
      value={keyboard.type === 'datetime-local' ? text.slice(0, 16) : text}
      onChange={(ev) => set(ev.target.value || null)}
    />
  );
}
