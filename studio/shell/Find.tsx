import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { groupClass, itemClass } from '../chips/ChoiceChip.tsx';
import { searchOf } from '../find/search.ts';
import { thingsIn, type Thing } from '../find/things.ts';
import { useApp, useHome } from '../state/studio.ts';

/** Finds anything in the app by its name, and places of the studio by the words people use for them, and goes there. */
export function Find({
  open,
  onOpenChange,
  run,
}: {
  open: boolean;
  onOpenChange(open: boolean): void;
  /** Does a command that leads nowhere. */
  run(command: string): void;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="float fixed top-[14vh] left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 p-1.5"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">Find in this app</Dialog.Title>
          <Named close={() => onOpenChange(false)} run={run} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** As many as are looked through; what is meant comes first. */
const MOST_SHOWN = 60;

function Named({ close, run }: { close(): void; run(command: string): void }) {
  const app = useApp();
  const home = useHome();
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const things = useMemo(() => thingsIn(app), [app]);
  const search = useMemo(() => searchOf(things), [things]);
  const typed = text.trim();
  const found = typed
    ? search(typed)
        .slice(0, MOST_SHOWN)
        .map(({ it }) => it)
    : things;
  const groups = typed ? [''] : [...new Set(things.map((t) => t.group))];
  const take = (t: Thing): void => {
    close();
    if (t.to !== undefined) void navigate(`${home}/${t.to}`);
    else run(t.command!);
  };
  return (
    <Command loop shouldFilter={false}>
      <Command.Input
        autoFocus
        value={text}
        onValueChange={setText}
        placeholder="Find a table, field, screen, element or routine"
        className="field mb-1 h-9 text-md"
      />
      <Command.List className="thin-scroll max-h-[50vh] overflow-auto">
        {found.length === 0 && (
          <p className="px-3 py-6 text-center text-ink-faint">Nothing in this app is called “{typed}”.</p>
        )}
        {groups.map((g) => (
          <Command.Group key={g} heading={g || undefined} className={groupClass}>
            {found
              .filter((t) => !g || t.group === g)
              .map((t) => (
                <Command.Item key={t.key} value={t.key} onSelect={() => take(t)} className={itemClass}>
                  <t.icon size={14} className="shrink-0 text-ink-faint" aria-hidden />
                  <span className="min-w-0 flex-1 truncate">{t.name}</span>
                  <span className="max-w-48 truncate text-xs text-ink-faint">{t.hint}</span>
                </Command.Item>
              ))}
          </Command.Group>
        ))}
      </Command.List>
    </Command>
  );
}
