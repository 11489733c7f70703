import { Dialog } from 'radix-ui';
import { X } from 'lucide-react';

/** Every key of the studio, by where it works. */
const KEYS: [title: string, keys: [keys: string, does: string][]][] = [
  [
    'Everywhere',
    [
      ['Ctrl K', 'Find anything by its name'],
      ['Ctrl Z', 'Undo'],
      ['Ctrl Shift Z', 'Do again'],
      ['P', 'Fold the phone away, or out'],
      ['?', 'This sheet'],
    ],
  ],
  [
    'Elements of a screen',
    [
      ['A', 'Add an element'],
      ['Ctrl C, Ctrl X, Ctrl V', 'Copy, cut and paste, in this app and between apps'],
      ['D', 'Make a copy beside it'],
      ['B', 'Put into a box'],
      ['T', 'Take everything out of the box'],
      ['Alt and arrows', 'Move before or behind its neighbour'],
      ['Enter', 'Go inside'],
      ['Escape', 'Go to what it stands in'],
      ['S', 'Select everything beside it too'],
      ['Delete', 'Remove'],
    ],
  ],
  [
    'On the phone, in Arrange',
    [
      ['Press', 'Select; press again to go inside'],
      ['Press twice', 'Write words where they stand'],
      ['Shift and press', 'Select several'],
      ['Drag', 'Move the selection'],
      ['Alt and drag', 'Move a copy'],
      ['Drag a handle', 'Set width or height; press it twice for fit or fill'],
    ],
  ],
  [
    'Steps of a routine',
    [
      ['Ctrl C, Ctrl X, Ctrl V', 'Copy, cut and paste steps'],
      ['Alt and arrows', 'Move, into and out of branches'],
      ['D', 'Make a copy below'],
      ['O', 'Switch off or on'],
      ['Delete', 'Remove'],
    ],
  ],
  [
    'Records of a table',
    [
      ['Enter', 'Write into a cell; again to keep it and go down'],
      ['Tab', 'Keep it and go to the right'],
      ['Shift and arrows', 'Mark a block'],
      ['Ctrl C, Ctrl V', 'Copy and paste a block'],
      ['Delete', 'Empty the marked cells'],
    ],
  ],
];

/** The sheet that lists the keys. */
export function KeysSheet({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="float thin-scroll fixed top-[8vh] left-1/2 z-50 max-h-[84vh] w-[860px] max-w-[94vw] -translate-x-1/2 overflow-auto p-6"
          aria-describedby={undefined}
        >
          <div className="mb-4 flex items-center justify-between">
            <Dialog.Title className="text-xl">Keys</Dialog.Title>
            <Dialog.Close
              aria-label="Close the keys"
              className="grid size-8 place-items-center rounded-control hover:bg-sunk"
            >
              <X size={17} aria-hidden />
            </Dialog.Close>
          </div>
          <div className="columns-2 gap-8">
            {KEYS.map(([title, keys]) => (
              <section key={title} className="mb-5 break-inside-avoid">
                <h2 className="mb-1.5 text-[14px]">{title}</h2>
                <dl>
                  {keys.map(([key, does]) => (
                    <div key={key} className="flex items-baseline gap-3 border-b border-line py-1 last:border-0">
                      <dt className="w-36 shrink-0 font-mono text-xs text-ink">{key}</dt>
                      <dd className="text-sm text-ink-soft">{does}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
