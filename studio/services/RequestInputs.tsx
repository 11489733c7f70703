import '../../core/fields/typed-texts.ts';
import { X } from 'lucide-react';
import { freeName } from '../../core/document/names.ts';
import { typedCell } from '../../core/records/cells.ts';
import { FILES, type ServiceRequest } from '../../core/services/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { TextBox } from '../ui/TypedBox.tsx';
import { INPUT_CHOICES, INPUT_KINDS, type InputKind } from './input-kinds.ts';
import { TestFile } from './TestFile.tsx';

type Input = ServiceRequest['inputs'][number];
/** What a request is given, with what it is tried with. */
export function RequestInputs({
  inputs,
  onChange,
}: {
  inputs: readonly Input[];
  onChange(label: string, inputs: Input[], merge?: string): void;
}) {
  const put = (label: string, i: Input, next: Input | null, merge?: string): void =>
    onChange(
      label,
      inputs.flatMap((x) => (x.id === i.id ? (next ? [next] : []) : [x])),
      merge,
    );
  if (inputs.length === 0) return null;
  return (
    <div className="sentence mt-2">
      {inputs.map((i) => (
        <p key={i.id}>
          It is given{' '}
          <ChoiceChip
            name={`Kind of ${i.name}`}
            value={i.type as InputKind}
            choices={INPUT_CHOICES}
            onChange={(type) => {
              const { test: _other, ...rest } = i;
              put(`${i.name} is ${INPUT_KINDS[type]}`, i, { ...rest, type: type as Input['type'] });
            }}
          />{' '}
          called{' '}
          <b className="font-semibold text-ink">
            <NameField
              value={i.name}
              label="Name of the input"
              onChange={(n) =>
                put(`Renamed ${i.name} to ${n}`, i, {
                  ...i,
                  name: freeName(
                    n,
                    inputs.filter((o) => o.id !== i.id).map((o) => o.name),
                  ),
                })
              }
            />
          </b>
          ,{' '}
          <ChoiceChip
            name={`Is ${i.name} needed?`}
            value={i.optional ? 'optional' : 'needed'}
            choices={[
              { value: 'needed', label: 'which it needs' },
              { value: 'optional', label: 'which may be left out' },
            ]}
            onChange={(how) => {
              const { optional: _before, ...rest } = i;
              put(`${i.name} is ${how}`, i, { ...rest, ...(how === 'optional' && { optional: true as const }) });
            }}
          />
          ; tried with{' '}
          {FILES.has(i.type) ? (
            <TestFile input={i} />
          ) : (
            <span className="inline-block w-24 align-middle">
              <TextBox
                label={`Test value of ${i.name}`}
                placeholder="nothing"
                value={i.test === undefined || i.test === null ? '' : String(i.test)}
                onChange={(text) => {
                  const { test: _before, ...rest } = i;
                  const cell = typedCell(i, text);
                  put(
                    `Changed the test value of ${i.name}`,
                    i,
                    { ...rest, ...(text !== '' && { test: cell ?? text }) },
                    `test ${i.id}`,
                  );
                }}
              />
            </span>
          )}
          <IconButton
            icon={X}
            size={14}
            className="!inline-grid align-middle"
            label={`Remove the input ${i.name}`}
            onClick={() => put(`Removed the input ${i.name}`, i, null)}
          />
        </p>
      ))}
    </div>
  );
}
