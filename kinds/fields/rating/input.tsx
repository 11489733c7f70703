import type { InputProps } from '../../../player/inputs.ts';

const STARS = [1, 2, 3, 4, 5];

/** Five stars: a tap gives so many, a tap on the same takes them off. */
export default function RatingInput({ e, id, value, set }: InputProps) {
  return (
    <div className="k-choices" role="radiogroup" aria-label={e.label} id={id}>
      {STARS.map((n) => (
        <button
          type="button"
          role="radio"
          aria-checked={value === n}
          aria-label={`${n} of 5`}
          key={n}
          onClick={() => set(value === n ? null : n)}
        >
          {typeof value === 'number' && value >= n ? '★' : '☆'}
        </button>
      ))}
    </div>
  );
}
