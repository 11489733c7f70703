import type { ReactNode } from 'react';
import type { AnyElement } from '../../core/document/meaning.ts';
import type { Screen } from '../../core/app/schema.ts';
import { SeenWhen, TwoCards } from './BoxControls.tsx';
import { SizeLines } from './SizeLines.tsx';

/** What every desk of an element gets. */
export interface DeskProps<E extends AnyElement = AnyElement> {
  element: E;
  screen: Screen;
}

/** The two cards below an element's sentence: size, and look with what the kind adds to it. */
export function SizeAndLook({ element, screen, children }: DeskProps & { children?: ReactNode }) {
  return (
    <TwoCards
      size={<SizeLines element={element} />}
      look={
        <>
          {children}
          <SeenWhen element={element} screen={screen} />
        </>
      }
    />
  );
}
