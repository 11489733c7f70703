import { Suspense, useId } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import { useForm } from '../../../player/form.ts';
import { inputOf } from '../../../player/inputs.ts';
import { LineInput } from '../../../player/LineInput.tsx';
import type { input } from './definition.ts';

/** One field of a form, by its type. */
export default function InputView({ e }: { e: Drawn<typeof input> }) {
  const form = useForm();
  const id = useId();
  if (!form)
    return (
      <p className="k-text k-none" data-e={e.id}>
        {e.label}: put this input inside a form
      </p>
    );
  const value = form.values[e.field] ?? null;
  const problem = form.problems[e.field];
  const set = (cell: Cell): void => form.set(e.field, cell);
  return (
    <div className="k-field" data-e={e.id} data-problem={problem ? true : undefined}>
      {!e.phone?.labelled && (
        <label htmlFor={id}>
          {e.label}
          {e.unit ? <span className="k-unit"> in {e.unit}</span> : null}
        </label>
      )}
      <Control e={e} id={id} value={value} set={set} />
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}

function Control(props: { e: Drawn<typeof input>; id: string; value: Cell; set(cell: Cell): void }) {
  const { e, value } = props;
  if (!e.writable) return <p className="k-none">{value === null ? 'The app fills this in.' : String(value)}</p>;
  const Own = e.link ? inputOf('link') : inputOf(e.type);
  return (
    <Suspense fallback={<p className="k-none">One moment</p>}>
      {Own ? <Own {...props} /> : <LineInput {...props} />}
    </Suspense>
  );
}
