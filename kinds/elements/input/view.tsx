import { Suspense, useEffect, useId, useRef } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { inputOf } from '../../../player/inputs.ts';
import { LineInput } from '../../../player/LineInput.tsx';
import { FILLED } from '../../../player/element-effect.ts';
import { useBound } from '../../../player/bound.ts';
import { useForm } from '../../../player/context.ts';
import type { input } from './definition.ts';
import './input.css';

/** One value to fill in, by its type. */
export default function InputView({ e }: { e: Drawn<typeof input> }) {
  const bound = useBound(e);
  const form = useForm();
  const id = useId();
  const { set } = bound;
  const fill = useRef(set);
  useEffect(() => {
    fill.current = set;
  });
  useEffect(() => {
    const filled = (ev: Event): void => {
      const { element, cell } = (ev as CustomEvent<{ element: string; cell: Cell }>).detail;
      if (element === e.id) fill.current(cell);
    };
    addEventListener(FILLED, filled);
    return () => removeEventListener(FILLED, filled);
  }, [e.id]);
  if (e.into === 'nothing')
    return (
      <p className="k-text k-none" data-e={e.id}>
        {e.label || 'Input'}: choose what it fills in
      </p>
    );
  const locked = e.locked || (e.into === 'form' && form !== null && (form.refused || !!form.closed?.includes(e.field)));
  const said = bound.problem ?? e.fails;
  const labelled = e.phone?.labelled && !locked;
  return (
    <div
      className="k-field"
      data-e={e.id}
      data-size={e.size}
      data-locked={locked || undefined}
      data-problem={said ? true : undefined}
      style={sizeOf(e)}
      onBlur={bound.flush}
    >
      {!labelled &&
        (e.label ? (
          <label htmlFor={id}>
            {e.label}
            {e.unit ? <span className="k-unit"> in {e.unit}</span> : null}
          </label>
        ) : (
          <label htmlFor={id} className="k-hidden">
            {e.hint || e.called}
          </label>
        ))}
      <Control e={e} id={id} locked={locked} value={bound.value} set={bound.set} />
      {said ? (
        <p className="k-problem" role="alert">
          {said}
        </p>
      ) : (
        e.help && <p className="k-help">{e.help}</p>
      )}
    </div>
  );
}

function Control(props: { e: Drawn<typeof input>; id: string; locked: boolean; value: Cell; set(cell: Cell): void }) {
  const { e, value, set, id, locked } = props;
  if (!e.writable && value === null) return <p className="k-none">The app fills this in.</p>;
  if (locked || !e.writable) return <Still {...props} />;
  if (e.as === 'slider' && e.least !== undefined && e.most !== undefined)
    return (
      <span className="k-slider">
        <input
          id={id}
          type="range"
          min={e.least}
          max={e.most}
          step={e.decimals ? 10 ** -e.decimals : e.most - e.least > 2 ? 1 : 'any'}
          value={typeof value === 'number' ? value : e.least}
          onChange={(ev) => set(Number(ev.target.value))}
        />
        <output htmlFor={id}>{value === null ? '–' : String(value)}</output>
      </span>
    );
  return <OwnInput {...props} />;
}

function OwnInput(props: { e: Drawn<typeof input>; id: string; value: Cell; set(cell: Cell): void }) {
  const { e } = props;
  const Own = inputOf(e.link ? 'link' : e.picks ? 'choice' : e.type);
  return (
    <Suspense fallback={<p className="k-none">One moment</p>}>
      {Own ? <Own {...props} /> : <LineInput {...props} />}
    </Suspense>
  );
}

/** What says more as a picture than in words. */
const PICTURED: ReadonlySet<string | null> = new Set(['picture', 'sound', 'plan']);
/** What is kept as people read it. */
const AS_READ: ReadonlySet<string | null> = new Set(['text', 'longtext', 'mail', 'phone', 'web', 'code', 'number']);

/** A value that cannot be typed into: in words, or as its own input that takes nothing. */
function Still(props: { e: Drawn<typeof input>; id: string; value: Cell; set(cell: Cell): void }) {
  const { e, id, value } = props;
  const words = e.shown ?? (value === null || AS_READ.has(e.type) ? String(value ?? '') : null);
  if (words !== null && (!PICTURED.has(e.type) || value === null))
    return <output id={id}>{words || e.hint || '–'}</output>;
  return (
    <div className="k-still" inert>
      <OwnInput {...props} />
    </div>
  );
}
