import { CirclePlus, PanelsTopLeft, Table2, X } from 'lucide-react';
import { walkSteps } from '../../core/app/names.ts';
import { thisId } from '../../core/app/ids.ts';
import type { FieldValue, Routine, Step, Table } from '../../core/app/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { WordsField } from '../chips/WordsField.tsx';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { NameField } from '../ui/NameField.tsx';

const MAIL = { type: 'mail' as const, group: 'Mail addresses' };

/** The table a stored path leads to, when it leads to one record. */
function useTableOf(routine: Routine): (formula: string) => Table | undefined {
  const app = useApp();
  const model = useModel();
  return (formula) => {
    const [head, ...rest] = formula.split('.');
    let table: string | null = routine.given && head === thisId(routine.given) ? routine.given : null;
    walkSteps(routine.steps, (s) => {
      if (s.do === 'add' && s.result === head) table = s.table;
    });
    for (const hop of rest) {
      const type = table ? model.members(table).find((m) => m.id === hop)?.type : undefined;
      table = type?.k === 'record' ? type.table : null;
    }
    return app.tables.find((t) => t.id === table);
  };
}

/** One step as a sentence with places to fill in. */
export function StepSentence({
  step,
  routine,
  onChange,
}: {
  step: Step;
  routine: Routine;
  onChange(step: Step): void;
}) {
  const app = useApp();
  const tableOf = useTableOf(routine);
  const place = { self: null, given: routine.given, routine: routine.id };
  switch (step.do) {
    case 'set':
      return (
        <>
          In{' '}
          <ValueChip
            name="Record to set"
            value={step.record}
            empty="choose a record"
            literals={false}
            wanted="record"
            place={place}
            onChange={(record) =>
              onChange({ ...step, record, ...(tableOf(record)?.id !== tableOf(step.record)?.id && { values: [] }) })
            }
          />{' '}
          set{' '}
          <Values
            table={tableOf(step.record)}
            values={step.values}
            place={place}
            onChange={(values) => onChange({ ...step, values })}
            joiner="to"
          />
        </>
      );
    case 'add':
      return (
        <>
          <ChoiceChip
            name="Add or change"
            value={step.update ?? false}
            choices={[
              { value: false, label: 'Add' },
              { value: true, label: 'Add or change' },
            ]}
            onChange={(update) => onChange({ ...step, update: update || undefined })}
          />{' '}
          a record {step.update ? 'of' : 'to'}{' '}
          <ChoiceChip
            name="Table"
            tone="data"
            icon={Table2}
            value={step.table || null}
            empty="choose a table"
            choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
            onChange={(table) =>
              onChange({
                ...step,
                table,
                values: [],
                resultName: `new ${app.tables.find((t) => t.id === table)?.one ?? 'record'}`,
              })
            }
          />{' '}
          with{' '}
          <Values
            table={app.tables.find((t) => t.id === step.table)}
            values={step.values}
            place={place}
            onChange={(values) => onChange({ ...step, values })}
            joiner="as"
          />
          {step.table && (
            <>
              {' '}
              and call it{' '}
              <NameField
                value={step.resultName}
                label="Name of the result"
                onChange={(resultName) => onChange({ ...step, resultName })}
                className="font-semibold text-kelp"
              />
            </>
          )}
        </>
      );
    case 'remove':
      return (
        <>
          Remove{' '}
          <ValueChip
            name="Record to remove"
            value={step.record}
            empty="choose a record"
            literals={false}
            wanted="record"
            place={place}
            onChange={(record) => onChange({ ...step, record })}
          />
        </>
      );
    case 'back':
      return <>Go back to the screen before</>;
    case 'message':
      return (
        <div className="flex items-start gap-2">
          <span className="shrink-0">Show the message</span>
          <WordsField
            name="Message"
            value={step.words}
            onChange={(words) => onChange({ ...step, words })}
            place={place}
            placeholder="Words, with values in them"
          />
        </div>
      );
    case 'open': {
      const screen = app.screens.find((s) => s.id === step.screen);
      const give = (id: string): string => {
        const given = app.screens.find((s) => s.id === id)?.given;
        return given && given === routine.given ? thisId(given) : '';
      };
      return (
        <>
          Open{' '}
          <ChoiceChip
            name="Screen"
            icon={PanelsTopLeft}
            value={step.screen || null}
            empty="choose a screen"
            choices={app.screens.map((s) => ({ value: s.id, label: s.name }))}
            onChange={(id) => onChange({ ...step, screen: id, give: give(id) })}
          />
          {screen?.given && (
            <>
              {' '}
              with{' '}
              <ValueChip
                name="Given"
                value={step.give}
                empty="choose a record"
                literals={false}
                wanted={{ record: screen.given }}
                place={place}
                onChange={(g) => onChange({ ...step, give: g })}
              />
            </>
          )}
        </>
      );
    }
    case 'mail':
      return (
        <>
          <p>
            Send mail to{' '}
            <ValueChip
              name="Mail address"
              value={step.to}
              empty="choose an address"
              prefer={MAIL}
              place={place}
              onChange={(to) => onChange({ ...step, to })}
            />
          </p>
          <div className="mb-1.5 flex items-start gap-2">
            <span className="w-12 shrink-0">about</span>
            <WordsField
              name="Subject"
              value={step.subject}
              onChange={(subject) => onChange({ ...step, subject })}
              place={place}
              placeholder="Subject"
            />
          </div>
          <div className="flex items-start gap-2">
            <span className="w-12 shrink-0">saying</span>
            <WordsField
              name="Mail text"
              rows={2}
              value={step.body}
              onChange={(body) => onChange({ ...step, body })}
              place={place}
              placeholder="The words of the mail"
            />
          </div>
        </>
      );
    case 'if':
      return (
        <span>
          <WhereSentence
            lead="If"
            bare="choose a condition"
            where={step.when}
            place={place}
            onChange={(when) => onChange({ ...step, when })}
          />
        </span>
      );
  }
}

/** Fields with the values they get. */
function Values({
  table,
  values,
  place,
  onChange,
  joiner,
}: {
  table: Table | undefined;
  values: FieldValue[];
  place: { self: null; given: string | null; routine: string };
  onChange(values: FieldValue[]): void;
  joiner: 'to' | 'as';
}) {
  const writable = (table?.fields ?? []).filter((f) => f.type !== 'formula');
  const set = (i: number, change: Partial<FieldValue>): void =>
    onChange(values.map((v, k) => (k === i ? { ...v, ...change } : v)));
  if (!table) return <span className="text-ink-faint">its fields</span>;
  const free = writable.filter((f) => !values.some((v) => v.field === f.id));
  return (
    <>
      {values.map((v, i) => {
        const field = writable.find((f) => f.id === v.field);
        return (
          <span key={i} className="group/value">
            {i > 0 && (i === values.length - 1 ? ' and ' : ', ')}
            <ChoiceChip
              name={`Field ${i + 1}`}
              value={v.field || null}
              empty="choose a field"
              choices={[...(field ? [field] : []), ...free].map((f) => ({ value: f.id, label: f.name }))}
              onChange={(id) => set(i, { field: id, value: '' })}
            />{' '}
            {joiner}{' '}
            <ValueChip
              name={`Value ${i + 1}`}
              value={v.value}
              field={field}
              wanted={field?.link ? { record: field.link.table } : 'value'}
              literals={!field?.link}
              place={place}
              onChange={(value) => set(i, { value })}
            />
            <button
              type="button"
              aria-label={`Remove ${field?.name ?? 'this field'}`}
              onClick={() => onChange(values.filter((_, k) => k !== i))}
              className="ml-0.5 inline-grid size-5 place-items-center rounded align-middle text-ink-faint opacity-0 group-hover/value:opacity-100 hover:bg-sunk focus-visible:opacity-100"
            >
              <X size={12} aria-hidden />
            </button>
          </span>
        );
      })}
      {free.length > 0 && (
        <ChoiceChip
          label={values.length ? 'and more' : 'choose a field'}
          tone={values.length ? 'plain' : 'empty'}
          icon={CirclePlus}
          name="Add a field"
          value={null}
          choices={free.map((f) => ({ value: f.id, label: f.name }))}
          onChange={(id) => onChange([...values, { field: id as string, value: '' }])}
        />
      )}
    </>
  );
}
