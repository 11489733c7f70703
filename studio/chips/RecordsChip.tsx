import { Table2 } from 'lucide-react';
import type { Query } from '../../core/document/pieces.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { chipLabel, pathsAt } from './paths.ts';
import type { FormulaPlace } from './place.ts';

/** So many ways to linked records are offered for a table. */
const MOST_PATHS = 10;

/** Which records are shown: those of a table, or those linked to what is at hand. */
export function RecordsChip({
  query,
  place,
  onChange,
}: {
  query: Query;
  place: FormulaPlace;
  onChange(table: string, via: string | undefined): void;
}) {
  const app = useApp();
  const model = useModel();
  const table = app.tables.find((t) => t.id === query.table);
  return (
    <ChoiceChip
      name="Records"
      tone="data"
      icon={Table2}
      width={320}
      label={query.via ? chipLabel(model, query.via).label : (table?.name ?? 'choose a table')}
      value={query.via ? `${query.table} ${query.via}` : query.table}
      choices={[
        ...app.tables.map((t) => ({ value: t.id, label: t.name, group: 'All records', icon: Table2 })),
        ...app.tables.flatMap((t) =>
          pathsAt(app, model, place, { records: t.id })
            .filter((p) => p.type.k === 'list')
            .slice(0, MOST_PATHS)
            .map((p) => ({ value: `${t.id} ${p.stored}`, label: p.label, group: 'Linked records' })),
        ),
      ]}
      onChange={(chosen) => {
        const [id, via] = chosen.split(' ') as [string, string?];
        onChange(id, via);
      }}
    />
  );
}
