import { toast } from 'sonner';
import { clipOfElements, pasteElements, readClip, type Pasted } from '../../core/app/clip.ts';
import { elementOf, placeOf } from '../../core/app/edits.ts';
import { elementName } from '../../core/app/names.ts';
import type { App, Element, Screen } from '../../core/app/schema.ts';
import {
  duplicateElements,
  moveElements,
  putIntoBox,
  removeElements,
  takeOutOfBox,
  topmost,
} from '../../core/app/selection.ts';
import { usePhone } from '../state/phone.ts';
import { useStudio } from '../state/studio.ts';

/** What is done with the selected elements, whichever way it is asked for. `open` selects an element on the desk. */

type Open = (id: string | null) => void;

/** The ids of everything that is selected; never the root of a screen. */
export function selectedIds(): string[] {
  const { selected, several } = usePhone.getState();
  const { app } = useStudio.getState();
  const ids = several.length ? several : selected ? [selected] : [];
  return app ? ids.filter((id) => placeOf(app, id)?.parent) : [];
}

/** "Title" or "3 elements". */
function said(app: App, ids: readonly string[]): string {
  const first = ids.length === 1 ? elementOf(app, ids[0]!) : null;
  return first ? elementName(app, first) : `${ids.length} elements`;
}

/** Does something with the selection as one edit, and selects what it gives. */
async function change(
  words: (said: string) => string,
  work: (app: App, ids: string[]) => string[] | void,
  open: Open,
): Promise<void> {
  const { app, edit } = useStudio.getState();
  const ids = selectedIds();
  if (!app || ids.length === 0) return;
  let now: string[] | undefined;
  await edit(words(said(app, ids)), (a) => {
    now = work(a as App, ids) ?? undefined;
  });
  if (!now) return;
  usePhone.getState().selectAll(now);
  open(now.at(-1) ?? null);
}

export function remove(open: Open): Promise<void> {
  const { app } = useStudio.getState();
  const [first] = selectedIds();
  const parent = app && first ? placeOf(app, first)?.parent : null;
  const root = app && first ? placeOf(app, first)?.screen.root.id : null;
  return change(
    (s) => `Removed ${s}`,
    (a, ids) => removeElements(a, ids),
    open,
  ).then(() => {
    usePhone.getState().selectAll([]);
    open(parent && parent.id !== root ? parent.id : null);
  });
}

export const duplicate = (open: Open): Promise<void> => change((s) => `Copied ${s}`, duplicateElements, open);

export const intoBox = (open: Open): Promise<void> =>
  change(
    (s) => `Put ${s} into a box`,
    (a, ids) => {
      const box = putIntoBox(a, ids);
      return box ? [box.id] : undefined;
    },
    open,
  );

export function outOfBox(open: Open): Promise<void> {
  const { app } = useStudio.getState();
  const boxes = selectedIds().filter((id) => app && elementOf(app, id)?.kind === 'box');
  if (boxes.length === 0) {
    toast('Only what stands in a box can be taken out of it. Select the box.');
    return Promise.resolve();
  }
  return change(
    (s) => `Took everything out of ${s}`,
    (a) => boxes.flatMap((id) => takeOutOfBox(a, id)),
    open,
  );
}

/** Moves the selection by one place among what stands beside it. */
export const shift = (by: 1 | -1, open: Open): Promise<void> =>
  change(
    (s) => `Moved ${s}`,
    (a, ids) => {
      const edge = by < 0 ? topmost(a, ids)[0] : topmost(a, ids).at(-1);
      const at = edge && placeOf(a, edge.id);
      const beside = at?.list[at.at + by];
      if (beside) moveElements(a, ids, beside.id, by < 0 ? 'before' : 'after');
    },
    open,
  );

/** Moves the selection, or a copy of it, to where it was dragged. */
export const dropped = (to: string, where: 'before' | 'after' | 'inside', isCopy: boolean, open: Open): Promise<void> =>
  change(
    (s) => `${isCopy ? 'Copied' : 'Moved'} ${s}`,
    (a, ids) => {
      const moved = isCopy ? duplicateElements(a, ids) : ids;
      moveElements(a, moved, to, where);
      return isCopy ? moved : undefined;
    },
    open,
  );

/** The selection as text for the clipboard; null when nothing is selected. */
export function copied(): string | null {
  const { app } = useStudio.getState();
  const ids = selectedIds();
  return app && ids.length ? JSON.stringify(clipOfElements(app, ids)) : null;
}

/** Puts what the clipboard holds behind or into the selected element, or at the end of the screen. */
export async function paste(text: string, screen: Screen, open: Open): Promise<void> {
  const { edit } = useStudio.getState();
  let clip: ReturnType<typeof readClip>;
  try {
    clip = readClip(text);
  } catch (e) {
    toast.error((e as Error).message);
    return;
  }
  if (!clip) {
    toast('There is nothing on the clipboard that goes on a screen.');
    return;
  }
  if (!clip.elements?.length) {
    toast('Steps go into a routine, in Logic.');
    return;
  }
  const given = clip;
  const at = selectedIds().at(-1) ?? screen.root.id;
  let pasted: Pasted<Element> = { things: [], lost: [] };
  const n = given.elements!.length;
  await edit(`Pasted ${n === 1 ? 'an element' : `${n} elements`} on ${screen.name}`, (a) => {
    pasted = pasteElements(a as App, given, at);
  });
  const ids = pasted.things.map((e) => e.id);
  usePhone.getState().selectAll(ids);
  open(ids.at(-1) ?? null);
  if (pasted.lost.length)
    toast(
      `This app has not ${pasted.lost.slice(0, 4).join(', ')}${pasted.lost.length > 4 ? ` and ${pasted.lost.length - 4} more` : ''}. What goes by it is marked and waits for a choice.`,
      { duration: 12_000 },
    );
}
