import { CirclePlus, X } from 'lucide-react';
import type { Element } from '../../core/app/schema.ts';
import type { Property } from '../../core/document/meaning.ts';
import { canBeWorkedOut, COMMON_BY } from '../../core/screens/working-out.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { Menu } from '../ui/popover.tsx';
import type { DeskProps } from './ElementFrame.tsx';
import { usePlace } from './places.ts';
import { labelOf } from './properties.ts';
import { useElementEdit } from './useElementEdit.ts';

/** The properties of a kind that can be worked out, by name. */
const offered = (kind: string): [string, Property][] =>
  Object.entries({ ...elementKinds.get(kind)?.properties, ...COMMON_BY }).filter(
    ([name, p]) => canBeWorkedOut(p) && name !== 'resultName',
  );

/** Looks of an element that depend on values: a colour by a field, an icon by a formula. */
export function ByValues({ element, screen }: DeskProps) {
  const set = useElementEdit<Element>(element as Element);
  const place = usePlace(screen, element.id);
  const by = element.worked ?? {};
  const all = offered(element.kind);
  const free = all.filter(([name]) => !(name in by));
  const put = (next: Record<string, string>): void => set('worked', Object.keys(next).length ? next : undefined);
  if (all.length === 0) return null;
  return (
    <section className="mt-3.5">
      {Object.entries(by).map(([name, formula]) => {
        const p = all.find(([n]) => n === name)?.[1];
        return (
          <p key={name} className="sentence group/by card mb-2 px-4 py-2">
            {p ? labelOf(p) : name} is worked out as{' '}
            <ValueChip
              name={`${p ? labelOf(p) : name} is worked out as`}
              value={formula}
              empty="choose a value"
              wanted={p?.is === 'yesNo' ? 'yesno' : 'value'}
              place={place}
              onChange={(next) => put({ ...by, [name]: next })}
            />
            {p?.is === 'oneOf' && <span className="text-sm text-ink-faint"> ({(p.values ?? []).join(', ')})</span>}
            <button
              type="button"
              aria-label={`${p ? labelOf(p) : name} is fixed again`}
              onClick={() => {
                const { [name]: _gone, ...rest } = by;
                put(rest);
              }}
              className="ml-1 inline-grid size-5 place-items-center rounded align-middle text-ink-faint hover:bg-sunk"
            >
              <X size={12} aria-hidden />
            </button>
          </p>
        );
      })}
      {free.length > 0 && (
        <Menu
          trigger={
            <button
              type="button"
              className="flex h-8 items-center gap-2 rounded-control px-1.5 text-ink-soft hover:bg-sunk/70 hover:text-ink"
            >
              <CirclePlus size={15} aria-hidden /> Work a look out from values
            </button>
          }
          items={free.map(([name, p]) => ({ label: labelOf(p), run: () => put({ ...by, [name]: '' }) }))}
        />
      )}
    </section>
  );
}
