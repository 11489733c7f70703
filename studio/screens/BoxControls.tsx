import type { ReactNode } from 'react';
import type { BoxElement, Element, Screen } from '../../core/app/schema.ts';
import type { AnyElement } from '../../core/document/meaning.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Line } from '../ui/controls.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WhenSentence } from '../chips/WhenSentence.tsx';
import { useElementEdit } from './useElementEdit.ts';
import { usePlace } from './places.ts';
import { ColumnsLine } from './ColumnsLine.tsx';
import { SidesLine } from './SidesLine.tsx';
import { SizeLines } from './SizeLines.tsx';
import { ChoiceLine } from './ChoiceLine.tsx';
import { box } from '../../kinds/elements/box/definition.ts';

const STEPS = [0, 2, 4, 8, 10, 12, 14, 16, 20, 24, 32].map((n) => ({ value: n, label: n === 0 ? 'none' : String(n) }));
const SURFACES: { value: BoxElement['surface']; label: string }[] = [
  { value: 'none', label: 'none' },
  { value: 'card', label: 'card' },
  { value: 'tint', label: 'tint' },
];

/** Null for the corners of the theme. */
const CORNERS = [null, 0, 4, 8, 12, 16, 20, 28, 40, 100].map((n) => ({
  value: n,
  label: n === null ? 'the theme’s' : n === 100 ? 'round' : String(n),
}));
const EXTRAS = [
  ['edge', 'line'],
  ['raised', 'raised'],
  ['clip', 'cut'],
] as const;
const PICTURE = { type: 'picture' as const, group: 'Pictures' };

/** The two cards of compact controls that every element ends with. */
export function TwoCards({ size, look }: { size: ReactNode; look: ReactNode }) {
  return (
    <div className="grid grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)] gap-3.5 max-[1150px]:grid-cols-1">
      {(
        [
          ['Size and place', size],
          ['Look', look],
        ] as const
      ).map(([title, lines]) => (
        <section key={title} className="card px-4 py-3.5">
          <h2 className="mb-1.5 text-[14px]">{title}</h2>
          {lines}
        </section>
      ))}
    </div>
  );
}

/** How a box runs, and what it looks like. */
export function BoxControls({ element, screen }: { element: BoxElement; screen: Screen }) {
  const set = useElementEdit<BoxElement>(element);
  const root = element.id === screen.root.id;
  const place = usePlace(screen, element.id);
  return (
    <TwoCards
      size={
        <>
          <ChoiceLine
            label="Runs"
            property={box.properties.runs}
            value={element.runs}
            onChange={(v) => set('runs', v)}
          />
          <ColumnsLine element={element} />
          <GapLine value={element.gap} onChange={(v) => set('gap', v)} />
          <SidesLine
            label="Inside edge"
            of="side"
            value={element.inside}
            each={element.sides}
            choices={STEPS}
            onChange={(v) => set('inside', v)}
            onEach={(v) => set('sides', v)}
          />
          {element.runs === 'across' && (
            <Line label="Lined up">
              <ChoiceChip
                name="Lined up"
                value={element.across ?? 'start'}
                choices={[
                  { value: 'start' as const, label: 'at the top' },
                  { value: 'middle' as const, label: 'in the middle' },
                  { value: 'end' as const, label: 'at the bottom' },
                  { value: 'spread' as const, label: 'spread out' },
                ]}
                onChange={(v) => set('across', v)}
              />
            </Line>
          )}
          <Line label="Begins">
            <ChoiceChip
              name="Begins"
              value={element.along ?? 'start'}
              choices={[
                { value: 'start' as const, label: 'at the start' },
                { value: 'middle' as const, label: 'in the middle' },
                { value: 'end' as const, label: 'at the end' },
                { value: 'spread' as const, label: 'spread out' },
              ]}
              onChange={(v) => set('along', v === 'start' ? undefined : v)}
            />
          </Line>
          {!root && <SizeLines element={element} />}
        </>
      }
      look={
        <>
          <SurfaceLine value={element.surface} onChange={(v) => set('surface', v)} />
          <SidesLine
            label="Corners"
            of="corner"
            value={element.corners ? element.corners[0]! : null}
            each={element.corners}
            choices={CORNERS}
            onChange={(v) => set('corners', v === null ? undefined : [v, v, v, v])}
            onEach={(v) => set('corners', v)}
          />
          <Line label="Edge">
            {EXTRAS.map(([key, label]) => (
              <button
                key={key}
                type="button"
                aria-pressed={element[key] ?? false}
                onClick={() => set(key, element[key] ? undefined : true)}
                className="rounded-[7px] border border-line-strong bg-raised px-2 py-[2px] text-sm font-medium text-ink-soft aria-pressed:border-kelp aria-pressed:bg-kelp-wash aria-pressed:text-kelp"
              >
                {label}
              </button>
            ))}
          </Line>
          <Line label="Behind">
            <ValueChip
              name="Picture behind"
              value={element.behind ?? ''}
              empty="no picture"
              optional
              place={place}
              prefer={PICTURE}
              onChange={(v) => set('behind', v || undefined)}
            />
          </Line>
          {!root && <SeenWhen element={element} screen={screen} />}
        </>
      }
    />
  );
}

/** The condition under which an element is seen. */
export function SeenWhen({ element, screen }: { element: AnyElement; screen: Screen }) {
  const set = useElementEdit<Element>(element as Element);
  const place = usePlace(screen, element.id);
  return (
    <Line label="Visible when">
      <WhenSentence
        key={element.id}
        name="Visible when"
        none="always"
        formula={element.seenWhen}
        place={place}
        onChange={(v) => set('seenWhen', v)}
      />
    </Line>
  );
}

export function GapLine({ value, onChange }: { value: number; onChange(v: number): void }) {
  return (
    <Line label="Gap">
      <ChoiceChip name="Gap" value={value} choices={STEPS} onChange={onChange} />
    </Line>
  );
}

export function SurfaceLine({
  label = 'Surface',
  value,
  onChange,
}: {
  label?: string;
  value: BoxElement['surface'];
  onChange(v: BoxElement['surface']): void;
}) {
  return (
    <Line label={label}>
      <ChoiceChip name={label} value={value} choices={SURFACES} onChange={onChange} />
    </Line>
  );
}
