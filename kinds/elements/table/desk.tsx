import type { Element } from '../../../core/app/schema.ts';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { FieldChips } from '../../../studio/screens/FieldChips.tsx';
import { SumChip, useFields } from '../../../studio/screens/RecordsCard.tsx';
import { RecordsDesk } from '../../../studio/screens/RecordsDesk.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';

type TableElement = Extract<Element, { kind: 'table' }>;

/** A table in sentences: which records, which of their fields stand in columns. */
export default function TableDesk({ element, screen }: DeskProps<TableElement>) {
  const set = useElementEdit<TableElement>(element);
  const fields = useFields(element.query.table);
  return (
    <RecordsDesk
      element={element}
      screen={screen}
      sentences={
        <>
          <p>
            With the columns{' '}
            <FieldChips
              name="Columns"
              value={element.columns}
              fields={fields.all}
              add="one more"
              onChange={(ids) => set('columns', ids)}
            />
          </p>
          <p>
            and the sum of <SumChip element={element} />
          </p>
        </>
      }
    />
  );
}
