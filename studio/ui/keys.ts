/** Things that take what is typed themselves. */
const WRITES = 'input, textarea, select, [contenteditable=true], [role=menu], [role=dialog], [cmdk-root], .k-app';

/** A menu, a dialog or a card over the page; those of the phone are its own. */
const OVER = '[role=menu], [role=dialog], [cmdk-root]';

/** Does something take letters where the event comes from? */
export const isTaken = (e: Event): boolean => e.target instanceof HTMLElement && e.target.closest(WRITES) !== null;

/** Is a menu, a dialog or a card open? While one is, keys of the page do nothing. */
export const isSomethingOpen = (): boolean =>
  [...document.querySelectorAll(OVER)].some((e) => !e.closest('.k-app') && e.getClientRects().length > 0);

/** May a key without Ctrl or Cmd, or the clipboard, act on what is selected in the page? */
export const isFree = (e: Event): boolean => !isTaken(e) && !isSomethingOpen();
