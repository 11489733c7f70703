import { fieldsOfRule } from '../../core/app/access-rules.ts';
import { seesAll } from '../../core/app/told-fields.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';

/** Values that must be unique, and are filled in by people who do not see all of them: a refusal tells that one is taken. */
export const tellingUnique = defineNote({
  name: 'unique values that tell of what is hidden',
  find({ app, model }) {
    const { access } = app;
    if (!access) return [];
    const sees = seesAll(model, access);
    return app.tables.flatMap((table): Note[] => {
      const all = table.fields.map((f) => f.id);
      const writes = access.rules.filter(
        (r) => r.table === table.id && (r.may.includes('add') || r.may.includes('change')),
      );
      return table.fields
        .filter((f) => f.unique && writes.some((r) => fieldsOfRule(r, all).has(f.id) && !sees(r, table.id, f.id)))
        .map((f) => ({
          severity: 'look',
          said: `${f.name} of ${table.name} must be unique, and not everybody who fills it in sees all ${table.name}: whoever is refused learns that one with that ${f.name} is there.`,
          workspace: 'people',
          table: table.id,
          field: f.id,
          rule: 'rules',
        }));
    });
  },
});
