import { CirclePlus } from 'lucide-react';
import type { Routine } from '../../core/app/schema.ts';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { TRIGGER_VALUES, type TriggerValue } from '../../core/routines/trigger-values.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Menu } from '../ui/popover.tsx';
import { InputLine } from '../variables/InputLine.tsx';

type Input = NonNullable<Routine['inputs']>[number];

/** What kind of value each known thing is. */
const TYPES: Partial<Record<TriggerValue, Input['type']>> = {
  'how far across': 'number',
  'how far down': 'number',
  'words of the mail': 'longtext',
  'whole mail': 'longtext',
  'what was sent': 'longtext',
};

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
  if (inputs.length === 0) return null;
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
            value={(i.from ?? '') as TriggerValue | ''}
            choices={[
              { value: '' as const, label: 'set by what runs it' },
              ...TRIGGER_VALUES.map((value) => ({ value, label: value, group: 'What starts it knows' })),
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
    </div>
  );
}

/** One more value that a routine is given. */
export function AddInput({
  routine,
  change,
}: {
  routine: Routine;
  change(label: string, recipe: (r: Routine) => void): void;
}) {
  const inputs = routine.inputs ?? [];
  const add = (from?: TriggerValue): void => {
    const name = freeName(
      from ?? 'value',
      inputs.map((i) => i.name),
    );
    const type = (from && TYPES[from]) ?? 'text';
    change(`Gave ${routine.name} an input`, (r) => {
      r.inputs = [
        ...inputs,
        {
          id: newId('v'),
          name,
          type,
          first: '',
          ...(from && { from }),
        },
      ];
    });
  };
  return (
    <Menu
      trigger={
        <button
          type="button"
          className="flex h-8 items-center gap-2 rounded-control px-1.5 text-ink-soft hover:bg-sunk/70 hover:text-ink"
        >
          <CirclePlus size={15} aria-hidden /> Give it a value
        </button>
      }
      items={[
        { label: 'A value from what runs it', run: () => add() },
        null,
        ...TRIGGER_VALUES.map((from) => ({ label: `What starts it knows: ${from}`, run: () => add(from) })),
      ]}
    />
  );
}
