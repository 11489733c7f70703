import type { InputProps } from '../../../player/inputs.ts';

export default function YesNoInput({ e, id, value, set }: InputProps) {
  if (!e.unknown)
    return (
      <label className="k-switch" htmlFor={id}>
        <input
          id={id}
          type="checkbox"
          role="switch"
          checked={value === true}
          onChange={(ev) => set(ev.target.checked)}
        />
        <span>{e.label}</span>
      </label>
    );
  // Neither is pressed while it is not answered; pressing an answer again takes it back.
  return (
    <div className="k-yesno" role="group" aria-label={e.label}>
      <span>{e.label}</span>
      {[true, false].map((answer, i) => (
        <button
          type="button"
          key={String(answer)}
          id={i === 0 ? id : undefined}
          aria-pressed={value === answer}
          onClick={() => set(value === answer ? null : answer)}
        >
          {answer ? 'Yes' : 'No'}
        </button>
      ))}
    </div>
  );
}
