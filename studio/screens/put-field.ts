import { toast } from 'sonner';
import { insertElement, elementOf, placeOf } from '../../core/app/edits.ts';
import { elementForField, standsInRow } from '../../core/app/field-element.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { App, Element } from '../../core/app/schema.ts';
import { moveElements } from '../../core/app/selection.ts';
import { aOrAn } from '../../core/document/names.ts';
import { slotsOf } from '../../core/document/meaning.ts';
import { reachAt, reachInside } from '../../core/screens/reach.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { modelOf } from '../state/model.ts';
import { useStudio } from '../state/studio.ts';

/** Names a field that is dragged onto the phone: its table and itself. */
export const FIELD_DRAG = 'application/x-kite-field';
export const dragText = (table: string, field: string): string => `${table}/${field}`;

/** Into a list or form one puts what stands in its one row or box. */
function innermost(e: Element): Element {
  const children = 'children' in e ? (e.children as Element[]) : [];
  const [only] = children;
  return e.kind === 'list' && children.length === 1 && only?.kind === 'box' ? only : e;
}

/** Puts an element for a field beside or into another, as fits there, and selects it. */
export async function putField(
  dragged: string,
  to: { id: string; where: 'before' | 'after' | 'inside' },
  open: (id: string) => void,
): Promise<void> {
  const { app, edit } = useStudio.getState();
  const [tableId, fieldId] = dragged.split('/');
  const table = app?.tables.find((t) => t.id === tableId);
  const field = table?.fields.find((f) => f.id === fieldId);
  const target = app && elementOf(app, to.id);
  const screen = app && placeOf(app, to.id)?.screen;
  if (!app || !table || !field || !target || !screen) return;
  const model = modelOf(app);
  const at = to.where === 'inside' ? innermost(target) : target;
  const outer = reachAt(elementKinds, model, screen, at.id);
  const [slot] = slotsOf(elementKinds.get(at.kind)?.properties ?? {}, 'elements');
  const reach = to.where === 'inside' && slot ? reachInside(elementKinds, model, outer, at, slot) : outer;
  const element = elementForField(new ElementMaker(), { field, table }, reach, standsInRow(app, at.id));
  if (!element) {
    toast(
      `No ${table.one} is at hand here. Put ${field.name} into a list or form of ${table.name}, or on a screen that opens with ${aOrAn(table.one)}.`,
    );
    return;
  }
  await edit(`Put ${field.name} on ${screen.name}`, (a) => {
    insertElement(a, element, at.id);
    if (to.where !== 'inside') moveElements(a as App, [element.id], at.id, to.where);
  });
  open(element.id);
}
