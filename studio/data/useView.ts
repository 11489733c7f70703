import { plainView } from '../../core/app/edits.ts';
import type { Table, View } from '../../core/tables/schema.ts';
import { useStudio } from '../state/studio.ts';

const PLAIN = plainView();

/** How a table is looked at, and the way to change that as one named edit. */
export function useView(table: Table): {
  view: View;
  look(label: string, recipe: (v: View) => void, merge?: string): void;
} {
  const edit = useStudio((s) => s.edit);
  return {
    view: table.view ?? PLAIN,
    look: (label, recipe, merge) =>
      void edit(
        label,
        (a) => {
          const t = a.tables.find((x) => x.id === table.id)!;
          t.view ??= plainView();
          recipe(t.view as View);
        },
        merge ? { merge } : {},
      ),
  };
}
