import type { Reach } from '../screens/reach.ts';
import type { Field, Table } from '../tables/schema.ts';
import { fieldKind } from '../fields/kinds.ts';
import { asWords } from '../records/words.ts';
import { placeOf } from './edits.ts';
import { titleWords, type ElementMaker } from './make.ts';
import type { App, Element } from './schema.ts';

/**
 * An element for a field, as fits where it is put: an input in a form of its table, a picture, words in a row, a reading on
 * the screen of a record. Null where no record of the table is at hand, and where the app fills the field in itself.
 */
export function elementForField(
  make: ElementMaker,
  { field, table }: { field: Field; table: Table },
  { things, form }: Reach,
  inRow: boolean,
): Element | null {
  if (form === table.id) return fieldKind(field.type).keptByApp ? null : make.input(field.id);
  const record = things.findLast((t) => t.type.k === 'record' && t.type.table === table.id);
  if (!record) return null;
  const path = `${record.id}.${field.id}`;
  if (field.type === 'picture')
    return make.picture(path, inRow ? 'square' : 'wide', inRow ? { width: 44, height: 44 } : {});
  if (field.id === table.titleField)
    return make.text(titleWords(table).replace(/\{[^.{}]+\./, `{${record.id}.`), inRow ? 'strong' : 'title');
  return inRow ? make.text(`{${path}}`) : make.reading(asWords(field.name), path);
}

/** Does an element stand beside others in a row, where a label has no room? */
export function standsInRow(app: App, id: string): boolean {
  const at = placeOf(app, id);
  for (let e = at && (at.list[at.at] ?? at.parent); e; e = placeOf(app, e.id)?.parent ?? null)
    if (e.kind === 'box' && e.runs === 'across') return true;
    else if (e.kind === 'list' || e.kind === 'form') return false;
  return false;
}
