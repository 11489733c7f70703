import { Plus, X } from 'lucide-react';
import type { Element } from '../../core/app/schema.ts';
import type { Property } from '../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../core/document/queries.ts';
import type { Query, Size, Tap, Where } from '../../core/document/pieces.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { FormulaPlace } from '../chips/place.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { QuerySentence } from '../chips/QuerySentence.tsx';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { WordsField } from '../chips/WordsField.tsx';
import { useApp } from '../state/studio.ts';
import { Button, IconButton, Line, Segmented } from '../ui/controls.tsx';
import { NumberBox, TextBox } from '../ui/TypedBox.tsx';
import { ElementChip } from '../chips/ElementChip.tsx';
import { FieldChip, FieldChips } from './FieldChips.tsx';
import { SizeAndLook, type DeskProps } from './ElementFrame.tsx';
import { usePlace } from './places.ts';
import { choicesOf, ICON_CHOICES, labelOf } from './properties.ts';
import { TapSentence } from './TapSentence.tsx';
import { useElementEdit } from './useElementEdit.ts';

/** Meanings that read as a sentence; the others are compact controls. */
const SENTENCES = new Set<Property['is']>(['words', 'formula', 'where', 'tap', 'table', 'screen']);

/** A desk for a kind that has none of its own, drawn from the meanings of its properties. */
export function DefaultDesk({ element, screen }: DeskProps) {
  const properties = Object.entries(elementKinds.get(element.kind)?.properties ?? {});
  const set = useElementEdit<Element>(element as Element) as (key: string, value: unknown) => void;
  const place = usePlace(screen, element.id);
  const held = element as unknown as Record<string, unknown>;
  const control = (name: string, p: Property) => (
    <PropertyControl
      p={p}
      value={held[name]}
      place={place}
      screen={screen}
      held={held}
      onChange={(v) => set(name, v)}
    />
  );
  const sentences = properties.filter(([, p]) => SENTENCES.has(p.is));
  return (
    <>
      {sentences.length > 0 && (
        <section className="card sentence mb-3.5 px-4 py-3">
          {sentences.map(([name, p]) => (
            <div key={name} className="flex items-start gap-2">
              {p.is !== 'tap' && <span className="shrink-0">{labelOf(p)}</span>}
              {control(name, p)}
            </div>
          ))}
        </section>
      )}
      <SizeAndLook element={element} screen={screen}>
        {properties
          .filter(([, p]) => !SENTENCES.has(p.is) && p.is !== 'elements' && p.is !== 'steps')
          .map(([name, p]) => (
            <Line key={name} label={labelOf(p)}>
              {control(name, p)}
            </Line>
          ))}
      </SizeAndLook>
    </>
  );
}

/** The control for one property, from its meaning. */
export function PropertyControl({
  p,
  value,
  place,
  screen,
  differs = false,
  held = {},
  onChange,
}: {
  p: Property;
  value: unknown;
  place: FormulaPlace;
  screen?: DeskProps['screen'];
  /** Of several elements, those differ in it. */
  differs?: boolean;
  /** All that the element or step holds: the table of a field may stand in another property. */
  held?: Record<string, unknown>;
  onChange(value: unknown): void;
}) {
  const app = useApp();
  const name = labelOf(p);
  switch (p.is) {
    case 'words':
      return (
        <WordsField
          name={name}
          value={String(value ?? '')}
          place={place}
          {...(p.lines && { rows: p.lines })}
          onChange={onChange}
        />
      );
    case 'formula':
      return (
        <ValueChip
          name={name}
          value={String(value ?? '')}
          place={place}
          wanted={p.wants === 'record' ? 'record' : p.wants === 'yesNo' ? 'yesno' : p.wants === 'any' ? 'any' : 'value'}
          literals={p.wants !== 'record'}
          optional={!p.unfilled}
          onChange={onChange}
        />
      );
    case 'field':
    case 'fields': {
      const of = held[p.of!];
      const fields = app.tables.find(
        (t) => t.id === (typeof of === 'string' ? of : (of as Query | undefined)?.table),
      )?.fields;
      if (!fields) return <span className="text-ink-faint">when its records are chosen</span>;
      return p.is === 'field' ? (
        <FieldChip
          name={name}
          value={value as string | undefined}
          fields={fields}
          {...(p.optional && { none: 'nothing' })}
          onChange={(id) => onChange(id ?? (p.optional ? undefined : ''))}
        />
      ) : (
        <FieldChips
          name={name}
          value={(value as string[] | undefined) ?? []}
          fields={fields}
          add="add"
          onChange={onChange}
        />
      );
    }
    case 'where':
      return (
        <WhereSentence
          where={value as Where}
          place={p.of ? { ...place, self: String(held[p.of] ?? '') || null } : place}
          onChange={onChange}
        />
      );
    case 'tap':
      return screen ? (
        <span>
          <TapSentence
            tap={(value as Tap | undefined) ?? { do: 'nothing' }}
            onChange={onChange}
            place={place}
            about={name}
            {...(p.said.startsWith('when ') && { when: name })}
          />
        </span>
      ) : null;
    case 'query':
      if (p.optional && value === undefined)
        return (
          <Button small icon={Plus} onClick={() => onChange(allOf(NO_TABLE))}>
            Choose
          </Button>
        );
      return (
        <span className="flex items-start gap-1">
          <span>
            <QuerySentence query={(value as Query | undefined) ?? allOf(NO_TABLE)} place={place} onChange={onChange} />
          </span>
          {p.optional && <IconButton icon={X} label={`Leave out ${p.said}`} onClick={() => onChange(undefined)} />}
        </span>
      );
    case 'variable':
      return (
        <ChoiceChip
          name={name}
          value={String(value ?? '') || null}
          empty="choose a variable"
          choices={(app.variables ?? []).map((v) => ({ value: v.id, label: v.name }))}
          onChange={onChange}
        />
      );
    case 'request':
      return (
        <ChoiceChip
          name={name}
          value={String(value ?? '') || null}
          empty="choose a request"
          choices={(app.services ?? []).flatMap((s) =>
            s.requests.map((r) => ({ value: r.id, label: r.name, group: s.name })),
          )}
          onChange={onChange}
        />
      );
    case 'element':
      return <ElementChip name={name} value={String(value ?? '')} onChange={onChange} />;
    case 'table':
    case 'routine':
    case 'screen': {
      const list = p.is === 'table' ? app.tables : p.is === 'screen' ? app.screens : app.routines;
      return (
        <ChoiceChip
          name={name}
          tone={p.is === 'table' ? 'data' : 'plain'}
          value={String(value ?? '') || null}
          empty={`choose a ${p.is}`}
          choices={list.map((t) => ({ value: t.id, label: t.name }))}
          onChange={onChange}
        />
      );
    }
    case 'oneOf': {
      const choices = choicesOf(p as Property<string>);
      if (differs)
        return (
          <ChoiceChip
            name={name}
            label="different"
            value={null as string | null}
            choices={choices}
            onChange={onChange}
          />
        );
      return choices.length <= 3 ? (
        <Segmented
          label={name}
          value={String(value ?? choices[0]!.value)}
          options={choices.map((c) => [c.value, c.label] as [string, string])}
          onChange={onChange}
        />
      ) : (
        <ChoiceChip name={name} value={String(value ?? choices[0]!.value)} choices={choices} onChange={onChange} />
      );
    }
    case 'yesNo':
      return (
        <ChoiceChip
          name={name}
          value={Boolean(value)}
          choices={[
            { value: true, label: p.labels?.['true'] ?? 'yes' },
            { value: false, label: p.labels?.['false'] ?? 'no' },
          ]}
          onChange={onChange}
        />
      );
    case 'icon':
      return (
        <ChoiceChip
          name={name}
          value={String(value ?? '')}
          choices={[...(p.optional ? [{ value: '', label: 'none' }] : []), ...ICON_CHOICES]}
          onChange={(v) => onChange(v || undefined)}
        />
      );
    case 'number':
      return (
        <NumberBox
          label={name}
          className="!w-20"
          least={p.least!}
          most={p.most!}
          whole={p.whole ?? false}
          value={Number(value ?? p.least)}
          onChange={onChange}
        />
      );
    case 'text':
      return (
        <TextBox
          label={name}
          className="!w-44"
          maxLength={p.most}
          value={String(value ?? '')}
          onChange={(text) => onChange(text || (p.optional ? undefined : ''))}
        />
      );
    case 'size':
      return (
        <Segmented
          label={name}
          value={typeof value === 'number' ? 'fixed' : ((value as Exclude<Size, number> | undefined) ?? 'fill')}
          options={[
            ['fit', 'Fit'],
            ['fill', 'Fill'],
            ['fixed', 'Fixed'],
          ]}
          onChange={(v) => onChange(v === 'fixed' ? 120 : v)}
        />
      );
    default:
      return null;
  }
}
