import { placesInside } from '../../core/app/parts.ts';
import { defineNote } from '../../core/preflight/note.ts';
import { MOST_PLACES } from '../../core/screens/part-places.ts';

/** Parts that hold more places of parts than are drawn, or hold themselves. */
export const crowdedParts = defineNote({
  name: 'parts that hold too many parts',
  find({ app }) {
    const inside = placesInside(app);
    return (app.parts ?? [])
      .filter((p) => inside.get(p.id)! >= MOST_PLACES)
      .map((p) => ({
        severity: 'stops',
        said:
          inside.get(p.id) === Infinity
            ? `The part ${p.name} holds itself, so not all of it is drawn. Take it out of the parts inside of it.`
            : `The part ${p.name} holds ${inside.get(p.id)!.toLocaleString('en-GB')} places of parts; ${MOST_PLACES.toLocaleString('en-GB')} are drawn.`,
        workspace: 'screens',
      }));
  },
});
