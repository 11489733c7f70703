import { useEffect } from 'react';
import { toast } from 'sonner';
import { insideOf, placeOf } from '../../core/app/edits.ts';
import type { Screen } from '../../core/app/schema.ts';
import { usePhone } from '../state/phone.ts';
import { useStudio } from '../state/studio.ts';
import { isFree } from '../ui/keys.ts';
import * as on from './selected.ts';

/** What the keys do with the selected elements of a screen. The sheet of keys (`studio/shell/KeysSheet.tsx`) lists them. */
export function useElementKeys(screen: Screen | null | undefined, open: (id: string | null) => void): void {
  useEffect(() => {
    if (!screen) return undefined;
    const go = (id: string | null): void => open(id);
    const copy = (e: ClipboardEvent, cut: boolean): void => {
      // Words that are selected are what is meant.
      if (!isFree(e) || String(getSelection() ?? '')) return;
      const text = on.copied();
      if (!text) return;
      e.preventDefault();
      e.clipboardData?.setData('text/plain', text);
      if (cut) void on.remove(go);
      else toast(on.selectedIds().length > 1 ? 'Copied them.' : 'Copied it.');
    };
    const onCopy = (e: ClipboardEvent): void => copy(e, false);
    const onCut = (e: ClipboardEvent): void => copy(e, true);
    const onPaste = (e: ClipboardEvent): void => {
      if (!isFree(e)) return;
      const text = e.clipboardData?.getData('text/plain') ?? '';
      if (!text) return;
      e.preventDefault();
      void on.paste(text, screen, go);
    };
    const onKey = (e: KeyboardEvent): void => {
      if (!isFree(e) || e.ctrlKey || e.metaKey) return;
      const does = actionOf(e, screen, go);
      if (!does) return;
      e.preventDefault();
      void does();
    };
    document.addEventListener('copy', onCopy);
    document.addEventListener('cut', onCut);
    document.addEventListener('paste', onPaste);
    addEventListener('keydown', onKey);
    return () => {
      document.removeEventListener('copy', onCopy);
      document.removeEventListener('cut', onCut);
      document.removeEventListener('paste', onPaste);
      removeEventListener('keydown', onKey);
    };
  }, [screen, open]);
}

/** What a key means while something is selected; null for nothing. */
function actionOf(e: KeyboardEvent, screen: Screen, open: (id: string | null) => void): (() => unknown) | null {
  const ids = on.selectedIds();
  if (ids.length === 0) return null;
  if (e.altKey) {
    if (e.key === 'ArrowUp' || e.key === 'ArrowLeft') return () => on.shift(-1, open);
    if (e.key === 'ArrowDown' || e.key === 'ArrowRight') return () => on.shift(1, open);
    return null;
  }
  switch (e.key) {
    case 'Delete':
      return () => on.remove(open);
    case 'Escape':
      return () => open(parentOf(ids.at(-1)!, screen));
    case 'Enter':
      // A button that has the focus is pressed by it.
      if ((e.target as HTMLElement).closest('button, [role=button]')) return null;
      return () => open(firstIn(ids.at(-1)!) ?? ids.at(-1)!);
    case 'd':
      return () => on.duplicate(open);
    case 'b':
      return () => on.intoBox(open);
    case 't':
      return () => on.outOfBox(open);
    case 's':
      return () => usePhone.getState().selectAll(besides(ids.at(-1)!));
    default:
      return null;
  }
}

const placed = (id: string): ReturnType<typeof placeOf> => {
  const { app } = useStudio.getState();
  return app ? placeOf(app, id) : null;
};
/** What an element stands in; null for the screen itself. */
function parentOf(id: string, screen: Screen): string | null {
  const parent = placed(id)?.parent;
  return parent && parent.id !== screen.root.id ? parent.id : null;
}
function firstIn(id: string): string | undefined {
  const at = placed(id);
  const element = at?.list[at.at];
  return element ? insideOf(element)?.[0]?.id : undefined;
}
const besides = (id: string): string[] => placed(id)?.list.map((e) => e.id) ?? [];
