import type { Element } from '../../core/app/schema.ts';
import type { Tap } from '../../core/document/pieces.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import type { DeskProps } from './ElementFrame.tsx';
import { usePlace } from './places.ts';
import { labelOf } from './properties.ts';
import { TapSentence } from './TapSentence.tsx';
import { useElementEdit } from './useElementEdit.ts';

/** What an element answers besides a tap: a long press, the end of a sound. A sentence each. */
export function OtherTaps({ element, screen, only }: DeskProps & { only?: readonly string[] }) {
  const set = useElementEdit<Element>(element as Element) as (key: string, value: unknown) => void;
  const place = usePlace(screen, element.id);
  const properties = Object.entries(elementKinds.get(element.kind)?.properties ?? {});
  const held = element as unknown as Record<string, Tap | undefined>;
  return properties
    .filter(([name, p]) => p.is === 'tap' && p.said.startsWith('when ') && (!only || only.includes(name)))
    .map(([name, p]) => (
      <p key={name}>
        <TapSentence
          when={labelOf(p)}
          about={labelOf(p)}
          tap={held[name] ?? { do: 'nothing' }}
          place={place}
          onChange={(tap) => set(name, tap.do === 'nothing' ? undefined : tap)}
        />
      </p>
    ));
}
