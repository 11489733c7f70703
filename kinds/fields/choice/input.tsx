import { listCell, toListCell } from '../../../core/fields/lists.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { LineInput } from '../../../player/LineInput.tsx';

/** Buttons for a few choices or several at once, a list for many, a line where there are none. */
export default function ChoiceInput(props: InputProps) {
  const { e, id, value, set } = props;
  const text = String(value ?? '');
  if (e.several) {
    const chosen = listCell(value);
    return (
      <div className="k-choices" role="group" aria-label={e.label} id={id}>
        {[...new Set([...e.choices, ...chosen])].map((c) => (
          <button
            type="button"
            aria-pressed={chosen.includes(c)}
            key={c}
            onClick={() => set(toListCell(chosen.includes(c) ? chosen.filter((x) => x !== c) : [...chosen, c]))}
          >
            {c}
          </button>
        ))}
      </div>
    );
  }
  if (e.choices.length > 0 && e.choices.length <= 5) {
    return (
      <div className="k-choices" role="radiogroup" aria-label={e.label} id={id}>
        {e.choices.map((c) => (
          <button
            type="button"
            role="radio"
            aria-checked={text === c}
            key={c}
            onClick={() => set(text === c ? null : c)}
          >
            {c}
          </button>
        ))}
      </div>
    );
  }
  if (e.choices.length > 0) {
    return (
      <select id={id} value={text} onChange={(ev) => set(ev.target.value || null)}>
        <option value="">Choose</option>
        {e.choices.map((c) => (
          <option key={c} value={c}>
            {c}
          </option>
        ))}
      </select>
    );
  }
  return <LineInput {...props} />;
}
