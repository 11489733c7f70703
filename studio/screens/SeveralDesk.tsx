import { BoxSelect, Copy, Trash2 } from 'lucide-react';
import { elementOf } from '../../core/app/edits.ts';
import { elementName, kindName } from '../../core/app/names.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import type { Property } from '../../core/document/meaning.ts';
import type { Size } from '../../core/document/pieces.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { usePhone } from '../state/phone.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, IconButton, Line, Segmented } from '../ui/controls.tsx';
import { PropertyControl } from './DefaultDesk.tsx';
import { usePlace } from './places.ts';
import { labelOf } from './properties.ts';
import * as on from './selected.ts';

/** What can be changed of several elements together: what all of them have, and means the same in each. */
const TOGETHER = new Set<Property['is']>(['oneOf', 'number', 'yesNo', 'icon', 'tap', 'text']);

/** Several selected elements: what they have in common is changed in all of them at once. */
export function SeveralDesk({
  ids,
  screen,
  open,
}: {
  ids: readonly string[];
  screen: Screen;
  open(id: string | null): void;
}) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const elements = ids.flatMap((id) => elementOf(app, id) ?? []);
  const [first] = elements;
  const place = usePlace(screen, first?.id ?? screen.root.id);
  if (!first) return null;
  const propertiesOf = (e: Element): Record<string, Property> => elementKinds.get(e.kind)?.properties ?? {};
  const common = Object.entries(propertiesOf(first)).filter(
    ([name, p]) => TOGETHER.has(p.is) && elements.every((e) => alike(propertiesOf(e)[name], p)),
  );
  const held = (e: Element, name: string): unknown => (e as unknown as Record<string, unknown>)[name];
  const shared = (name: string): unknown => {
    const [value, ...others] = elements.map((e) => JSON.stringify(held(e, name)));
    return others.every((o) => o === value) ? held(first, name) : undefined;
  };
  const setAll = (name: string, said: string, value: unknown): void =>
    void edit(
      `Changed ${said} of ${ids.length} elements`,
      (a) => {
        for (const id of ids) {
          const e = elementOf(a as typeof app, id) as Record<string, unknown> | null;
          if (!e) continue;
          if (value === undefined) delete e[name];
          else e[name] = value;
        }
      },
      { merge: `${ids.join()}.${name}` },
    );
  const kinds = [...new Set(elements.map((e) => kindName(e.kind).toLowerCase()))];
  return (
    <>
      <header className="mb-3 flex items-center gap-1.5">
        <div className="min-w-0 flex-1">
          <h1 className="text-xl">{ids.length} elements</h1>
          <p className="truncate text-sm text-ink-faint">
            {kinds.join(', ')} on {screen.name}
          </p>
        </div>
        <IconButton icon={Copy} label="Make a copy of each (D)" onClick={() => void on.duplicate(open)} />
        <IconButton icon={Trash2} label="Remove them (Delete)" onClick={() => void on.remove(open)} />
        <Button look="main" icon={BoxSelect} onClick={() => void on.intoBox(open)}>
          Put into a box
        </Button>
      </header>
      <section className="card mb-3.5 px-4 py-3.5">
        <h2 className="mb-1.5 text-[14px]">Changed together</h2>
        {(['width', 'height'] as const).map((side) => (
          <Line key={side} label={side === 'width' ? 'Width' : 'Height'}>
            <Segmented<string>
              label={side}
              value={sizeKind(shared(side) as Size | undefined)}
              options={[
                ['fit', 'Fit'],
                ['fill', 'Fill'],
              ]}
              onChange={(v) => setAll(side, side, v)}
            />
          </Line>
        ))}
        {common.map(([name, p]) => (
          <Line key={name} label={labelOf(p)}>
            <PropertyControl
              p={p}
              value={shared(name) ?? ''}
              differs={shared(name) === undefined}
              place={place}
              screen={screen}
              onChange={(v) => setAll(name, p.said, v)}
            />
          </Line>
        ))}
      </section>
      <section className="card px-4 py-3.5">
        <h2 className="mb-1.5 text-[14px]">Selected</h2>
        <ul className="flex flex-wrap gap-1.5">
          {elements.map((e) => (
            <li key={e.id}>
              <button
                type="button"
                className="rounded-md border border-line-strong bg-raised px-2 py-0.5 text-sm hover:bg-paper"
                onClick={() => {
                  usePhone.getState().selectAll([]);
                  open(e.id);
                }}
              >
                {elementName(app, e)}
              </button>
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}

const sizeKind = (size: Size | undefined): string => (size === 'fit' || size === 'fill' ? size : '');

/** Do two properties mean the same, with the same choices? */
const alike = (a: Property | undefined, b: Property): boolean =>
  a?.is === b.is && JSON.stringify([a.values, a.least, a.most]) === JSON.stringify([b.values, b.least, b.most]);
