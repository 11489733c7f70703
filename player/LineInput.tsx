import { iconOf } from './icons.tsx';
import type { InputProps } from './inputs.ts';

/** One line to type into, with the keyboard that fits its type. */
export function LineInput({ e, id, value, set }: InputProps) {
  const text = value === null ? '' : String(value);
  const { labelled: _labelled, ...keyboard } = e.phone ?? {};
  const isSearch = e.as === 'search';
  const line = (
    <input
      id={id}
      {...keyboard}
      type={isSearch ? 'search' : e.as === 'hidden' ? 'password' : (keyboard.type ?? 'text')}
      {...(e.as === 'hidden' && { autoComplete: 'current-password' })}
      placeholder={e.hint || undefined}
      // This kind of input shows minutes; what is kept may have seconds, which stay when it is not touched.
      value={keyboard.type === 'datetime-local' ? text.slice(0, 16) : text}
      aria-label={e.label ? undefined : e.hint || undefined}
      onChange={(ev) => set(ev.target.value || null)}
    />
  );
  if (!isSearch) return line;
  const Icon = iconOf('search');
  return (
    <span className="k-searchbox">
      {Icon && <Icon size={18} aria-hidden />}
      {line}
    </span>
  );
}
