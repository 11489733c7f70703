import '../../core/fields/typed-texts.ts';
import { Command } from 'cmdk';
import { Link2, SquareFunction, Type as TypeIcon, Sigma } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import type { Field, FieldType } from '../../core/tables/schema.ts';
import { typedCell } from '../../core/records/cells.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import type { FormulaPlace } from './place.ts';
import { useModel } from '../state/model.ts';
import { useApp, useEngine } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { Chip } from './Chip.tsx';
import { ChoiceList, itemClass, type Choice } from './ChoiceChip.tsx';
import { FormulaBox } from './FormulaBox.tsx';
import { chipLabel, pathsAt, preferring, type Wanted } from './paths.ts';

export interface ValueChipProps {
  /** The stored formula; empty when not filled in. */
  value: string;
  onChange(stored: string): void;
  place: FormulaPlace;
  wanted?: Wanted;
  /** The field a plain value is for: it says which values make sense. */
  field?: Field | undefined;
  /** Fields of this type are offered first. */
  prefer?: { type: FieldType; group: string } | undefined;
  name: string;
  empty?: string;
  /** May stay empty: then it is no place that waits to be filled in. */
  optional?: boolean;
  /** A record whose values are called by their names alone, such as that of the row they stand in. */
  own?: string;
  /** Fixed values, each with its words in the sentence. */
  fixed?: readonly (readonly [stored: string, words: string])[];
  /** What stands over them. */
  fixedGroup?: string;
  /** A plain value may be typed; off where only a path or a record makes sense. */
  literals?: boolean;
}

/** Fixed values of a condition that need not be written. */
export const NEVER_OR_ALWAYS = [
  ['', 'never'],
  ['true', 'always'],
] as const;

/** A chip that takes a value: from a record along its links, a plain one, or a formula. */
export function ValueChip(props: ValueChipProps) {
  const model = useModel();
  const { value, name, empty = 'choose a value' } = props;
  const fixed = props.fixed?.find(([stored]) => stored === value)?.[1];
  const { label, kind } =
    value && fixed === undefined
      ? chipLabel(model, props.own ? withoutOwn(value, props.own) : value)
      : { label: fixed ?? empty, kind: 'literal' as const };
  const tone = !value ? (props.optional ? 'plain' : 'empty') : kind === 'literal' ? 'plain' : 'data';
  const icon =
    !value || kind === 'literal' ? undefined : kind === 'formula' ? Sigma : label.includes('›') ? Link2 : undefined;
  return (
    <Popover
      width={340}
      trigger={
        <Chip tone={tone} icon={icon} aria-label={`${name}: ${label}`}>
          {label}
        </Chip>
      }
    >
      {(close) => <ValueList {...props} close={close} />}
    </Popover>
  );
}

/** A path from a record without that record; anything else as it is. */
const withoutOwn = (value: string, own: string): string =>
  value.startsWith(`${own}.`) && /^[\w.]+$/.test(value) ? value.slice(own.length + 1) : value;

/** FEEL for a plain value, as the field would hold it. */
function literalFor(text: string, field: Field | undefined): string | null {
  const t = text.trim();
  if (!t) return null;
  if (field && field.type !== 'formula') {
    const cell = typedCell(field.link ? { ...field, type: 'text' } : field, t);
    if (cell === undefined || cell === null) return null;
    if (typeof cell !== 'string') return String(cell);
    return fieldKind(field.type).literal?.(cell) ?? JSON.stringify(cell);
  }
  return /^-?\d+(\.\d+)?$/.test(t) ? t : JSON.stringify(t);
}

const plainChoices = (field: Field | undefined): { value: string; label: string }[] =>
  (field && fieldKind(field.type).offers?.(field)) ?? [];

/** So many values are listed, with what each is now; typing looks through those beyond. */
const MOST_LISTED = 80;

/** The values that can be had at a place, with what each is now; a plain one can be typed, or a formula written. */
export function ValueList({
  value,
  onChange,
  place,
  wanted = 'value',
  field,
  prefer,
  fixed,
  fixedGroup = 'Fixed',
  literals = true,
  name,
  close,
}: ValueChipProps & { close(): void }) {
  const app = useApp();
  const model = useModel();
  const engine = useEngine();
  const [writing, setWriting] = useState(() => value !== '' && chipLabel(model, value).kind === 'formula');
  const [typed, setTyped] = useState('');
  const searching = typed.trim() !== '';
  const paths = useMemo(() => {
    const all = preferring(pathsAt(app, model, place, wanted, searching), model, prefer?.type, prefer?.group ?? '');
    return searching ? all : all.slice(0, MOST_LISTED);
  }, [app, model, place, wanted, prefer, searching]);
  const [samples, setSamples] = useState<string[]>([]);
  useEffect(() => {
    let current = true;
    void engine.trying
      .values(
        place,
        paths.slice(0, MOST_LISTED).map((p) => p.stored),
      )
      .then((s) => current && setSamples(s));
    return () => {
      current = false;
    };
  }, [engine, place, paths]);

  const choices = useMemo(
    (): Choice<string>[] => [
      ...(fixed ?? []).map(([stored, label]) => ({ value: stored, label, group: fixedGroup })),
      ...(literals ? plainChoices(field).map((c) => ({ ...c, group: 'Values' })) : []),
      ...paths.map((p, i) => ({
        value: p.stored,
        label: p.label,
        group: p.group,
        hint: samples[i]?.replace(/^(file:|data:).*/, 'a picture') || undefined,
        icon: p.depth > 0 ? Link2 : undefined,
      })),
    ],
    [fixed, fixedGroup, literals, field, paths, samples],
  );
  const choose = (stored: string): void => {
    onChange(stored);
    close();
  };
  if (writing)
    return <FormulaBox stored={value} place={place} name={name} onKeep={choose} onCancel={() => setWriting(false)} />;

  const literal = literals ? literalFor(typed, field) : null;
  return (
    <ChoiceList
      choices={choices}
      onChoose={choose}
      placeholder={literals ? 'Search, or type a value' : 'Search'}
      onType={setTyped}
      footer={
        <Command.Group className="mt-1 border-t border-line pt-1" forceMount>
          <Command.Item forceMount value="write a formula" onSelect={() => setWriting(true)} className={itemClass}>
            <SquareFunction size={14} className="text-ink-faint" aria-hidden /> Write a formula
          </Command.Item>
        </Command.Group>
      }
    >
      {literal !== null && (
        <Command.Item forceMount value={`plain ${typed}`} onSelect={() => choose(literal)} className={itemClass}>
          <TypeIcon size={14} className="text-ink-faint" aria-hidden />{' '}
          <span className="truncate">Use “{typed.trim()}”</span>
          <span className="ml-auto text-xs text-ink-faint">
            {field && field.type !== 'formula' ? fieldKind(field.type).name : 'as typed'}
          </span>
        </Command.Item>
      )}
      {choices.length === 0 && literal === null && (
        <p className="px-2 py-3 text-ink-faint">
          {literals ? 'Type a value, or write a formula.' : 'Nothing here fits by itself.'}
        </p>
      )}
    </ChoiceList>
  );
}
