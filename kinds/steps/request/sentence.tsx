import { requestIn } from '../../../core/services/answer-type.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { ResultName } from '../../../studio/logic/ResultName.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'request'>) {
  const app = useApp();
  const request = requestIn(app, step.request);
  // What is only read may be asked as often as one likes.
  const writes = app.services?.some((s) => s.requests.some((r) => r.id === step.request && r.method !== 'GET'));
  const own = { ...place, things: place.things.filter((t) => t.id !== step.result) };
  return (
    <>
      Ask{' '}
      <ChoiceChip
        name="Request"
        value={step.request || null}
        empty="choose a request"
        choices={(app.services ?? []).flatMap((s) =>
          s.requests.map((r) => ({ value: r.id, label: r.name, group: s.name })),
        )}
        onChange={(id) => {
          const { values: _before, ...rest } = step;
          const needed = requestIn(app, id)?.inputs.filter((i) => !i.optional) ?? [];
          onChange({
            ...rest,
            request: id,
            ...(needed.length && { values: needed.map((i) => ({ field: i.id, value: '' })) }),
          });
        }}
      />
      {request && request.inputs.length > 0 && (
        <>
          {' with '}
          <FieldValues
            fields={request.inputs}
            values={step.values ?? []}
            place={own}
            joiner="as"
            onChange={(values) => {
              const { values: _before, ...rest } = step;
              onChange({ ...rest, ...(values.length > 0 && { values }) });
            }}
          />
        </>
      )}
      {writes && (
        <>
          {', '}
          <ChoiceChip
            name="Where nobody knows whether it was done"
            tone="plain"
            value={step.onceAtMost ? 'once' : 'again'}
            choices={[
              { value: 'again', label: 'asked again where nobody knows, with the same key' },
              { value: 'once', label: 'asked once at most' },
            ]}
            onChange={(v) => {
              const { onceAtMost: _before, ...rest } = step;
              onChange(v === 'once' ? { ...rest, onceAtMost: true } : rest);
            }}
          />
        </>
      )}
      ; what it answers is called <ResultName step={step} onChange={onChange} />
    </>
  );
}
