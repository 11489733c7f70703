import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Part, Routine } from '../../core/app/schema.ts';
import { kindOfVariable, VARIABLE_KINDS, type VariableKind } from '../../core/app/variables.ts';
import { freeName } from '../../core/document/names.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useApp } from '../state/studio.ts';
import { NameField } from '../ui/NameField.tsx';

const NOWHERE = { self: null, things: [] };
type Input = Part['inputs'][number] & Pick<NonNullable<Routine['inputs']>[number], 'from'>;

/** A value that a part or a routine is given, as a sentence: its kind, its name and what it begins with. */
export function InputLine({
  input: i,
  of,
  others,
  children,
  change,
}: {
  input: Input;
  /** The name of the part or routine. */
  of: string;
  /** The names of its other inputs. */
  others: readonly string[];
  /** What more is said of it, before the end of the sentence. */
  children?: ReactNode;
  /** Takes it changed; without one it is taken off. */
  change(label: string, next?: Input): void;
}) {
  const app = useApp();
  const setKind = (kind: VariableKind): void => {
    const base = { id: i.id, name: i.name, first: '', ...(i.from && { from: i.from }) };
    const isRecord = kind === 'record' || kind === 'records';
    change(
      `${i.name} is ${VARIABLE_KINDS[kind]}`,
      isRecord
        ? {
            ...base,
            type: 'link',
            link: { kind: 'picked', table: app.tables[0]?.id ?? '', backName: '' },
            ...(kind === 'records' && { several: true }),
          }
        : { ...base, type: kind },
    );
  };
  return (
    <p className="group/input">
      {i.isTap ? 'A tap' : 'Its input is'}{' '}
      {!i.isTap && (
        <>
          <ChoiceChip
            name={`Kind of ${i.name}`}
            value={kindOfVariable({ ...i, lasts: 'app' })}
            choices={(Object.keys(VARIABLE_KINDS) as VariableKind[])
              .filter((k) => app.tables.length > 0 || (k !== 'record' && k !== 'records'))
              .map((value) => ({ value, label: VARIABLE_KINDS[value] }))}
            onChange={setKind}
          />{' '}
          {i.link && (
            <>
              of{' '}
              <ChoiceChip
                name={`Table of ${i.name}`}
                tone="data"
                value={i.link.table}
                choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
                onChange={(table) =>
                  change(`${i.name} is of another table`, { ...i, link: { ...i.link!, table }, first: '' })
                }
              />{' '}
            </>
          )}
        </>
      )}
      called{' '}
      <b className="font-semibold text-ink">
        <NameField
          value={i.name}
          label="Name of the input"
          onChange={(n) => change(`Renamed ${i.name} to ${n}`, { ...i, name: freeName(n, [...others]) })}
        />
      </b>
      {!i.isTap && (
        <>
          , beginning with{' '}
          <ValueChip
            name={`First value of ${i.name}`}
            value={i.first}
            empty="nothing"
            optional
            field={i}
            wanted={i.link ? (i.several ? { records: i.link.table } : { record: i.link.table }) : 'value'}
            literals={!i.link}
            place={NOWHERE}
            onChange={(first) => change(`${i.name} begins with another value`, { ...i, first })}
          />
        </>
      )}
      {children}
      <button
        type="button"
        aria-label={`Remove the input ${i.name}`}
        onClick={() => change(`Took the input ${i.name} off ${of}`)}
        className="ml-1 inline-grid size-5 place-items-center rounded align-middle text-ink-faint opacity-0 group-hover/input:opacity-100 hover:bg-sunk focus-visible:opacity-100"
      >
        <X size={12} aria-hidden />
      </button>
    </p>
  );
}
