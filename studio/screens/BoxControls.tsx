import type { ReactNode } from 'react';
import type { BoxElement, Element, ListElement, Screen } from '../../core/app/schema.ts';
import type { AnyElement } from '../../core/document/meaning.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Line, Segmented } from '../ui/controls.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useElementEdit } from './useElementEdit.ts';
import { usePlace } from './places.ts';

const STEPS = [0, 2, 4, 8, 10, 12, 14, 16, 20, 24, 32].map((n) => ({ value: n, label: n === 0 ? 'none' : String(n) }));
const SURFACES: { value: BoxElement['surface']; label: string }[] = [
  { value: 'none', label: 'none' },
  { value: 'card', label: 'card' },
  { value: 'tint', label: 'tint' },
];

/** The two cards of compact controls that every element ends with. */
export function TwoCards({ size, look }: { size: ReactNode; look: ReactNode }) {
  return (
    <div className="grid grid-cols-[1.3fr_1fr] gap-3.5 max-[1150px]:grid-cols-1">
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
  return (
    <TwoCards
      size={
        <>
          <Line label="Runs">
            <Segmented
              label="Runs"
              value={element.runs}
              options={[
                ['down', 'Down'],
                ['across', 'Across'],
                ['grid', 'Grid'],
                ['layered', 'Layered'],
              ]}
              onChange={(v) => set('runs', v)}
            />
          </Line>
          <Line label="Gap">
            <ChoiceChip name="Gap" value={element.gap} choices={STEPS} onChange={(v) => set('gap', v)} />
          </Line>
          <Line label="Inside edge">
            <ChoiceChip name="Inside edge" value={element.inside} choices={STEPS} onChange={(v) => set('inside', v)} />
          </Line>
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
          {!root && <SizeLines element={element} />}
        </>
      }
      look={
        <>
          <Line label="Surface">
            <ChoiceChip name="Surface" value={element.surface} choices={SURFACES} onChange={(v) => set('surface', v)} />
          </Line>
          {!root && <SeenWhen element={element} screen={screen} />}
        </>
      }
    />
  );
}

/** Width and height of any element. */
export function SizeLines({ element }: { element: AnyElement }) {
  const set = useElementEdit<Element>(element as Element);
  const kind = (v: Element['width']): 'fit' | 'fill' | 'fixed' => (typeof v === 'number' ? 'fixed' : (v ?? 'fill'));
  const options = [
    ['fit', 'Fit'],
    ['fill', 'Fill'],
    ['fixed', 'Fixed'],
  ] as const;
  return (
    <>
      {(['width', 'height'] as const).map((side) => (
        <Line key={side} label={side === 'width' ? 'Width' : 'Height'}>
          <Segmented
            label={side}
            value={side === 'height' && element.height === undefined ? 'fit' : kind(element[side])}
            options={options}
            onChange={(v) => set(side, v === 'fixed' ? 120 : v)}
          />
          {typeof element[side] === 'number' && (
            <input
              type="number"
              aria-label={`${side} in pixels`}
              min={1}
              max={2000}
              value={element[side]}
              onChange={(e) => {
                const n = Number(e.target.value);
                if (n >= 1 && n <= 2000) set(side, n);
              }}
              className="field !w-16 font-mono text-xs"
            />
          )}
        </Line>
      ))}
    </>
  );
}

/** The condition under which an element is seen. */
export function SeenWhen({ element, screen }: { element: AnyElement; screen: Screen }) {
  const set = useElementEdit<Element>(element as Element);
  const place = usePlace(screen, element.id);
  return (
    <Line label="Seen when">
      {element.seenWhen === undefined ? (
        <ChoiceChip
          name="Seen when"
          value="always"
          choices={[
            { value: 'always', label: 'always' },
            { value: 'when', label: 'a formula is true' },
          ]}
          onChange={(v) => {
            if (v === 'when') set('seenWhen', '');
          }}
        />
      ) : (
        <>
          <ValueChip
            name="Seen when"
            value={element.seenWhen}
            wanted="yesno"
            literals={false}
            empty="a formula is true"
            place={place}
            onChange={(v) => set('seenWhen', v)}
          />
          <button
            type="button"
            className="text-sm text-ink-soft underline underline-offset-2"
            onClick={() => set('seenWhen', undefined)}
          >
            always
          </button>
        </>
      )}
    </Line>
  );
}

/** How the rows of a list run, and what they look like. */
export function ListLook({ element, screen }: { element: ListElement; screen: Screen }) {
  const set = useElementEdit<ListElement>(element);
  return (
    <TwoCards
      size={
        <>
          <Line label="Runs">
            <Segmented
              label="Runs"
              value={element.runs}
              options={[
                ['down', 'Down'],
                ['grid', 'Grid'],
                ['across', 'Across'],
              ]}
              onChange={(v) => set('runs', v)}
            />
          </Line>
          <Line label="Gap">
            <ChoiceChip name="Gap" value={element.gap} choices={STEPS} onChange={(v) => set('gap', v)} />
          </Line>
        </>
      }
      look={
        <>
          <Line label="Row surface">
            <ChoiceChip
              name="Row surface"
              value={element.surface}
              choices={SURFACES}
              onChange={(v) => set('surface', v)}
            />
          </Line>
          <Line label="Search box">
            <ChoiceChip
              name="Search box"
              value={element.search}
              choices={[
                { value: true, label: 'above the list' },
                { value: false, label: 'none' },
              ]}
              onChange={(v) => set('search', v)}
            />
          </Line>
          <SeenWhen element={element} screen={screen} />
        </>
      }
    />
  );
}
