import { defineNote, type Note } from '../../core/preflight/note.ts';
import { fieldOf, tableOf } from '../../core/tables/names.ts';

/** Fields whose formulas, defaults or checks do not work out, and links that lead nowhere. */
export const brokenFields = defineNote({
  name: 'fields that do not work out',
  find: ({ app, model }) =>
    app.tables.flatMap((t) =>
      t.fields.flatMap((f): Note[] => {
        const at = { workspace: 'data' as const, table: t.id, field: f.id };
        const broken = [
          ['what it begins with', f.default],
          ['its check', f.check?.formula],
        ].flatMap(([what, formula]): Note[] => {
          const wrong = formula && model.formulaOf(t.id, formula).problems.find((p) => p.severity === 'error');
          return wrong ? [{ ...at, severity: 'stops', said: `${f.name} of ${t.name}, ${what}: ${wrong.message}` }] : [];
        });
        if (broken.length) return broken;
        if (f.type === 'plan' && !f.plan)
          return [{ ...at, severity: 'look', said: `${f.name} of ${t.name} has no plan to put places on yet.` }];
        if (f.type === 'formula') {
          if (!f.formula?.trim())
            return [{ ...at, severity: 'look', said: `${f.name} of ${t.name} has no formula yet.` }];
          return model
            .formula(t.id, f)
            .problems.slice(0, 1)
            .map((p) => ({
              ...at,
              severity: p.severity === 'error' ? ('stops' as const) : ('look' as const),
              said: `${f.name} of ${t.name}: ${p.message}`,
            }));
        }
        if (f.link && !tableOf(app, f.link.table))
          return [{ ...at, severity: 'stops', said: `${f.name} of ${t.name} leads to a table that is gone.` }];
        const matches = (): boolean =>
          Boolean(fieldOf(t, f.link!.from ?? '') && fieldOf(tableOf(app, f.link!.table), f.link!.to ?? ''));
        if (f.link?.kind === 'matched' && !matches())
          return [{ ...at, severity: 'stops', said: `${f.name} of ${t.name} matches by a field that is not chosen.` }];
        return [];
      }),
    ),
});
