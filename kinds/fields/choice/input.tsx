import { listCell, toListCell } from '../../../core/fields/lists.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { LineInput } from '../../../player/LineInput.tsx';

/** Up to so many choices are all seen at once, unless the maker says otherwise. */
const FEW = 5;

/** Chips for a few choices or several at once, a menu for many, ticks where the maker wants them, a line for none. */
export default function ChoiceInput(props: InputProps) {
  const { e, id, value, set } = props;
  const text = String(value ?? '');
  const chosen = e.several ? listCell(value) : text ? [text] : [];
  // What is chosen already is seen, also when it is not offered any more.
  const all = [...new Set([...e.choices, ...chosen])];
  if (all.length === 0)
    return e.picks ? <p className="k-none">There is nothing to choose.</p> : <LineInput {...props} />;
  const toggled = (c: string): Cell => {
    const there = chosen.includes(c);
    if (!e.several) return there ? null : c;
    return toListCell(there ? chosen.filter((x) => x !== c) : [...chosen, c]);
  };
  if (e.as === 'ticks')
    return (
      <div className="k-ticks" role={e.several ? 'group' : 'radiogroup'} aria-label={e.label} id={id}>
        {all.map((c) => (
          <label key={c}>
            <input
              type={e.several ? 'checkbox' : 'radio'}
              name={id}
              checked={chosen.includes(c)}
              onChange={() => set(toggled(c))}
            />
            {c}
          </label>
        ))}
      </div>
    );
  if (e.several || e.as === 'chips' || (e.as !== 'menu' && all.length <= FEW))
    return (
      <div className="k-choices" role={e.several ? 'group' : 'radiogroup'} aria-label={e.label} id={id}>
        {all.map((c) => (
          <button
            type="button"
            key={c}
            {...(e.several
              ? { 'aria-pressed': chosen.includes(c) }
              : { role: 'radio', 'aria-checked': chosen.includes(c) })}
            onClick={() => set(toggled(c))}
          >
            {c}
          </button>
        ))}
      </div>
    );
  return (
    <select id={id} value={text} onChange={(ev) => set(ev.target.value || null)}>
      <option value="">{e.hint || 'Choose'}</option>
      {all.map((c) => (
        <option key={c} value={c}>
          {c}
        </option>
      ))}
    </select>
  );
}
