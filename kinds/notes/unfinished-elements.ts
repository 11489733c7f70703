import { kindName } from '../../core/app/names.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';
import { propertyNotes } from '../../core/preflight/places.ts';
import { formula } from '../../core/document/meaning.ts';
import { reachOfScreen, variablesAt, walkReach } from '../../core/screens/reach.ts';

const SEEN = {
  seenWhen: formula('when it is seen', 'yesNo', {
    unfilled: {
      severity: 'look',
      said: 'the formula for when it is seen is not written yet, so it is never seen.',
    },
  }),
};

const FINDS = { finds: formula('the record it finds', 'record') };

/** Elements with a place that is not filled in, a formula that does not work out, or a tap that leads nowhere. */
export const unfinishedElements = defineNote({
  name: 'elements that are not finished',
  find: ({ app, model, elements }) =>
    app.screens.flatMap((s) => {
      const notes: Note[] = [];
      const alone = { things: variablesAt(model, s.id), form: null };
      for (const { severity, said } of s.finds ? propertyNotes(model, app, FINDS, s, alone) : [])
        notes.push({ severity, said: `${s.name}: ${said}`, workspace: 'screens', screen: s.id });
      walkReach(elements, model, s.root, reachOfScreen(model, s), (e, reach) => {
        const definition = elements.get(e.kind)!;
        const found = [
          ...(e.seenWhen === undefined ? [] : propertyNotes(model, app, SEEN, e, reach)),
          ...propertyNotes(model, app, definition.properties, e, reach),
          ...(definition.notes?.(e, {
            tables: app.tables,
            form: reach.form,
            things: reach.things,
            fields: (table) => model.tables.get(table)?.table.fields ?? [],
          }) ?? []),
        ];
        for (const { severity, said } of found)
          notes.push({
            severity,
            said: `${e.name ?? kindName(e.kind)} on ${s.name}: ${said}`,
            workspace: 'screens',
            screen: s.id,
            element: e.id,
          });
      });
      return notes;
    }),
});
