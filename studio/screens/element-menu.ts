import { ArrowDown, ArrowUp, BoxSelect, ClipboardPaste, Copy, CopyPlus, Trash2, Ungroup } from 'lucide-react';
import { toast } from 'sonner';
import { elementOf } from '../../core/app/edits.ts';
import type { Screen } from '../../core/app/schema.ts';
import { useStudio } from '../state/studio.ts';
import type { MenuItem } from '../ui/menu-item.tsx';
import * as on from './selected.ts';

/** What can be done with the selected elements, for a menu. `open` selects an element on the desk. */
export function elementItems(screen: Screen, open: (id: string | null) => void): (MenuItem | null)[] {
  const { app } = useStudio.getState();
  const ids = on.selectedIds();
  const isBox = ids.some((id) => app && elementOf(app, id)?.kind === 'box');
  const paste: MenuItem = {
    label: 'Paste',
    icon: ClipboardPaste,
    hint: 'Ctrl V',
    run: () => void pasteHere(screen, open),
  };
  if (ids.length === 0) return [paste];
  return [
    { label: 'Duplicate', icon: CopyPlus, hint: 'D', run: () => void on.duplicate(open) },
    { label: 'Copy', icon: Copy, hint: 'Ctrl C', run: () => void copyThem(ids.length) },
    paste,
    null,
    { label: 'Move before', icon: ArrowUp, hint: 'Alt ↑', run: () => void on.shift(-1, open) },
    { label: 'Move behind', icon: ArrowDown, hint: 'Alt ↓', run: () => void on.shift(1, open) },
    { label: 'Put into a box', icon: BoxSelect, hint: 'B', run: () => void on.intoBox(open) },
    ...(isBox
      ? [{ label: 'Take everything out of the box', icon: Ungroup, hint: 'T', run: () => void on.outOfBox(open) }]
      : []),
    null,
    { label: 'Remove', icon: Trash2, hint: 'Del', danger: true, run: () => void on.remove(open) },
  ];
}

async function copyThem(many: number): Promise<void> {
  try {
    await navigator.clipboard.writeText(on.copied() ?? '');
    toast(many > 1 ? 'Copied them.' : 'Copied it.');
  } catch {
    toast('This browser does not let a menu copy. Press Ctrl C.');
  }
}

async function pasteHere(screen: Screen, open: (id: string | null) => void): Promise<void> {
  try {
    await on.paste(await navigator.clipboard.readText(), screen, open);
  } catch {
    toast('This browser does not let a menu paste. Press Ctrl V.');
  }
}
