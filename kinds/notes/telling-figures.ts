import { hiddenReads, type HiddenReads } from '../../core/app/told-fields.ts';
import { grouped } from '../../core/document/grouped.ts';
import { defineNote } from '../../core/preflight/note.ts';

const ENDS = {
  told: (it: string): string => `: all who see ${it} are told something of what they do not see there.`,
  person: (it: string): string =>
    `. It asks who uses the app, so each phone works ${it} out from what its person sees.`,
  records: (it: string): string => `. It gives records, so each person who sees ${it} gets those that they see.`,
};

/** Formula fields that tell something of records or fields that not everybody sees who sees them. */
export const tellingFigures = defineNote({
  name: 'figures that tell of what is hidden',
  find({ app, model }) {
    if (!app.access) return [];
    const name = (id: string): string => app.tables.find((t) => t.id === id)?.name ?? 'another table';
    const from = ({ table, of }: HiddenReads): string => {
      const others = [...new Set(of.map((o) => o.table))].filter((id) => id !== table).map(name);
      return others.length ? others.join(' and ') : `other fields or records of ${name(table)}`;
    };
    const alike = grouped(hiddenReads(model, app.access), (h) => JSON.stringify([h.table, h.differs, from(h)]));
    return [...alike.values()].map((list) => {
      const { table, field, differs } = list[0]!;
      const names = list.map((h) => h.field.name).join(' and ');
      const [is, it] = list.length === 1 ? ['is', 'it'] : ['are', 'them'];
      return {
        severity: 'look' as const,
        said: `${names} of ${name(table)} ${is} worked out from ${from(list[0]!)}, and not everybody who sees ${it} sees all of that${ENDS[differs ?? 'told'](it)}`,
        workspace: 'people' as const,
        table,
        field: field.id,
        rule: 'rules',
      };
    });
  },
});
