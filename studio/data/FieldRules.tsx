import { useState } from 'react';
import type { Field, Table } from '../../core/tables/schema.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { fix } from '../../core/formula/number.ts';
import { isWritable } from '../../core/records/cells.ts';
import { Chip } from '../chips/Chip.tsx';
import { FormulaBox } from '../chips/FormulaBox.tsx';
import { chipLabel } from '../chips/paths.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useModel } from '../state/model.ts';
import { IconButton } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { X } from 'lucide-react';
import type { Change } from './TypeSettings.tsx';

/** What a field begins with and which values it refuses, with the words people then read. */
export function FieldRules({ table, field, change }: { table: Table; field: Field; change: Change }) {
  const matched = field.link?.kind === 'matched';
  if (!isWritable(field) && !matched) return null;
  const { range, patterned, repeats } = fieldKind(field.type);
  return (
    <div className="mt-1 border-t border-line/70 pt-1">
      <p className="sentence">
        It begins with{' '}
        <ValueChip
          name="Default"
          value={field.default ?? ''}
          empty="nothing"
          optional
          field={field}
          wanted={field.link ? { record: field.link.table } : 'value'}
          place={{ self: table.id, things: [] }}
          onChange={(stored) =>
            change(`Set what ${field.name} begins with`, (f) => {
              f.default = stored;
            })
          }
        />
        {field.default && (
          <TakeOff
            label="No default"
            onClick={() => change(`${field.name} begins with nothing`, (f) => void delete f.default)}
          />
        )}
        {range && <Range field={field} range={range} change={change} />}
        {patterned && !field.several && <Pattern field={field} change={change} />}.
      </p>
      <Check table={table} field={field} change={change} />
      <div className="flex flex-wrap gap-x-6">
        <Tick
          label="It must be filled in"
          on={field.required ?? false}
          onChange={(on) => change(`${field.name} is ${on ? 'needed' : 'not needed'}`, (f) => void (f.required = on))}
        />
        {!field.link && !repeats && !field.several && (
          <Tick
            label="No two records have the same"
            on={field.unique ?? false}
            onChange={(on) =>
              change(
                `${field.name} ${on ? 'differs' : 'need not differ'} from record to record`,
                (f) => void (f.unique = on),
              )
            }
          />
        )}
      </div>
    </div>
  );
}

function Tick({ label, on, onChange }: { label: string; on: boolean; onChange(on: boolean): void }) {
  return (
    <label className="mt-1.5 flex w-fit items-center gap-2 text-ink-soft">
      <input type="checkbox" className="size-4 accent-kelp" checked={on} onChange={(e) => onChange(e.target.checked)} />{' '}
      {label}
    </label>
  );
}

const TakeOff = ({ label, onClick }: { label: string; onClick(): void }) => (
  <IconButton icon={X} size={12} label={label} onClick={onClick} className="!inline-grid !size-5 align-middle" />
);

/** The least and the most a number may be; empty for no limit. A percent is written as people say it. */
function Range({ field, range, change }: { field: Field; range: { times: number; unit: string }; change: Change }) {
  const set = (key: 'least' | 'most', text: string): void => {
    const n = text.trim() === '' ? undefined : Number(text.replace(',', '.'));
    if (n !== undefined && Number.isNaN(n)) return;
    change(
      `Set the range of ${field.name}`,
      (f) => {
        if (n === undefined) delete f[key];
        else f[key] = fix(n / range.times);
      },
      `range-${field.id}-${key}`,
    );
  };
  const box = (key: 'least' | 'most', label: string) => (
    <input
      aria-label={label}
      inputMode="decimal"
      placeholder="any"
      defaultValue={field[key] === undefined ? '' : String(fix(field[key]! * range.times))}
      onChange={(e) => set(key, e.target.value)}
      className="field mx-1 !inline !w-20 text-right"
    />
  );
  return (
    <>
      , is at least {box('least', 'Least')} and at most {box('most', 'Most')}
      {range.unit && ` ${range.unit}`}
    </>
  );
}

function Pattern({ field, change }: { field: Field; change: Change }) {
  return (
    <>
      , and looks like{' '}
      <input
        aria-label="Pattern"
        placeholder="anything"
        title="# is a digit, @ a letter, ? any character, * any number of them"
        value={field.pattern ?? ''}
        maxLength={200}
        onChange={(e) =>
          change(
            `Set what ${field.name} looks like`,
            (f) => {
              if (e.target.value) f.pattern = e.target.value;
              else delete f.pattern;
            },
            `pattern-${field.id}`,
          )
        }
        className="field mx-1 !inline !w-32 font-mono text-[12px]"
      />
      {field.pattern && <span className="text-sm text-ink-faint">(# digit, @ letter, ? anything, * more)</span>}
    </>
  );
}

/** A formula that must hold, with the maker's own words for when it does not. */
function Check({ table, field, change }: { table: Table; field: Field; change: Change }) {
  const model = useModel();
  const { check } = field;
  const [words, setWords] = useState(check?.words ?? '');
  const keepWords = (): void => {
    if (check && words !== check.words)
      change(`Changed what is said about ${field.name}`, (f) => void (f.check = { ...check, words }));
  };
  return (
    <p className="sentence">
      It must hold that{' '}
      <Popover
        width={440}
        trigger={
          <Chip
            tone={check ? 'data' : 'plain'}
            aria-label={`Check: ${check ? chipLabel(model, check.formula).label : 'nothing more'}`}
          >
            {check ? chipLabel(model, check.formula).label : 'nothing more'}
          </Chip>
        }
      >
        {(close) => (
          <FormulaBox
            stored={check?.formula ?? ''}
            place={{ self: table.id, things: [] }}
            name={`the check of ${field.name}`}
            onCancel={close}
            onKeep={(formula) => {
              change(`Added a check to ${field.name}`, (f) => {
                if (formula.trim()) f.check = { formula, words };
                else delete f.check;
              });
              close();
            }}
          />
        )}
      </Popover>
      {check && (
        <>
          ; otherwise people read{' '}
          <input
            aria-label="Words of the check"
            className="field field-sizing-content mx-1 !inline !w-auto max-w-full min-w-72"
            placeholder={`${field.name} does not pass its check.`}
            value={words}
            maxLength={300}
            onChange={(e) => setWords(e.target.value)}
            onBlur={keepWords}
            onKeyDown={(e) => e.key === 'Enter' && keepWords()}
          />
          <TakeOff
            label="No check"
            onClick={() => change(`Took the check off ${field.name}`, (f) => void delete f.check)}
          />
        </>
      )}
      .
    </p>
  );
}
