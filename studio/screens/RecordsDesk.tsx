import type { ReactNode } from 'react';
import type { Screen } from '../../core/app/schema.ts';
import { TwoCards, SeenWhen } from './BoxControls.tsx';
import { FiltersSentence, RecordsCard, RecordsNotes, SearchLine, type RecordsElement } from './RecordsCard.tsx';
import { SizeLines } from './SizeLines.tsx';

/** The desk of every element that shows records: which, what people filter and look for, what is shown without any. */
export function RecordsDesk({
  element,
  screen,
  rows,
  ordered = true,
  sentences,
  below,
  size,
  look,
}: {
  element: RecordsElement;
  screen: Screen;
  /** What its records are called: "cards". */
  rows?: string;
  /** Its records have an order that is seen. */
  ordered?: boolean;
  /** How this kind shows them, in sentences. */
  sentences: ReactNode;
  /** What people may do with them. */
  below?: ReactNode;
  /** Lines on its size besides those of every element, and on its look. */
  size?: ReactNode;
  look?: ReactNode;
}) {
  return (
    <>
      <RecordsCard element={element} screen={screen} order={ordered}>
        {sentences}
        <FiltersSentence element={element} />
      </RecordsCard>
      {below}
      <TwoCards
        size={
          <>
            {size}
            <SizeLines element={element} />
          </>
        }
        look={
          <>
            {look}
            {element.kind !== 'plan' && <SearchLine element={element} />}
            <SeenWhen element={element} screen={screen} />
          </>
        }
      />
      <RecordsNotes element={element} rows={rows} />
    </>
  );
}
