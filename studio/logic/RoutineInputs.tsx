import { CirclePlus } from 'lucide-react';
import type { Routine } from '../../core/app/schema.ts';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { KNOWN, type Known } from '../../core/routines/known.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { InputLine } from '../variables/InputLine.tsx';

type Input = NonNullable<Routine['inputs']>[number];

/** What kind of value each known thing is. */
const TYPES: Partial<Record<Known, Input['type']>> = { 'how far across': 'number', 'how far down': 'number' };

/** The values that a routine is given beside a record: by a button, by the step that runs it, or by what starts it. */
export function RoutineInputs({
  routine,
  change,
}: {
  routine: Routine;
  change(label: string, recipe: (r: Routine) => void): void;
}) {
  const inputs = routine.inputs ?? [];
  const put = (label: string, next: Input[]): void =>
    change(label, (r) => {
      if (next.length) r.inputs = next;
      else delete r.inputs;
    });
  const add = (from?: Known): void => {
    const name = freeName(
      from ?? 'value',
      inputs.map((i) => i.name),
    );
    const made: Input = {
      id: newId('v'),
      name,
      type: (from && TYPES[from]) ?? 'text',
      first: '',
      ...(from && { from }),
    };
    put(`Gave ${routine.name} an input`, [...inputs, made]);
  };
  return (
    <div className="sentence mb-1">
      {inputs.map((i) => (
        <InputLine
          key={i.id}
          input={i}
          of={routine.name}
          others={inputs.filter((o) => o.id !== i.id).map((o) => o.name)}
          change={(label, next) =>
            put(
              label,
              inputs.flatMap((x) => (x.id === i.id ? (next ? [next as Input] : []) : [x])),
            )
          }
        >
          {', '}
          <ChoiceChip
            name={`Who gives ${i.name}`}
            value={(i.from ?? '') as Known | ''}
            choices={[
              { value: '' as const, label: 'given by what runs it' },
              ...KNOWN.map((value) => ({ value, label: `the ${value}`, group: 'What starts it knows' })),
            ]}
            onChange={(from) => {
              const { from: _before, ...rest } = i;
              put(
                `${i.name} comes from elsewhere`,
                inputs.map((x) => (x.id === i.id ? { ...rest, ...(from && { from }) } : x)),
              );
            }}
          />
        </InputLine>
      ))}
      <ChoiceChip
        name="Give it a value"
        label="a value it is given"
        icon={CirclePlus}
        value={null as Known | '' | null}
        choices={[
          { value: '' as const, label: 'a value by what runs it' },
          ...KNOWN.map((value) => ({ value, label: `the ${value}`, group: 'What starts it knows' })),
        ]}
        onChange={(from) => add(from || undefined)}
      />
    </div>
  );
}
