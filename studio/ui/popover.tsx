import { DropdownMenu, Popover as Radix } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { ITEM_CLASS, ItemInside, type MenuItem } from './menu-item.tsx';

/** A floating card at the thing that opens it. `children` may close it. */
export function Popover({
  trigger,
  children,
  width = 300,
  align = 'start',
  state,
}: {
  trigger: ReactNode;
  children: (close: () => void) => ReactNode;
  width?: number;
  align?: 'start' | 'end' | 'center';
  /** Whether it is open, where something else opens it too. */
  state?: [open: boolean, setOpen: (open: boolean) => void];
}) {
  const own = useState(false);
  const [open, setOpen] = state ?? own;
  return (
    <Radix.Root open={open} onOpenChange={setOpen}>
      <Radix.Trigger asChild>{trigger}</Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          align={align}
          sideOffset={5}
          collisionPadding={10}
          onEscapeKeyDown={(e) => {
            // Offers of an editor in it are closed first, and what is typed is not thrown away.
            if (document.querySelector('.cm-tooltip-autocomplete, [data-unkept]')) e.preventDefault();
          }}
          onPointerDownOutside={(e) => {
            // A press beside it throws no formula away: it is kept, or left, by its own buttons.
            if (document.querySelector('[data-unkept]')) e.preventDefault();
          }}
          className="float z-40 max-h-[min(460px,var(--radix-popover-content-available-height))] overflow-auto thin-scroll"
          style={{ width }}
        >
          {children(() => setOpen(false))}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** A menu of things to do; `null` draws a line between groups. */
export function Menu({
  trigger,
  items,
  align = 'start',
}: {
  trigger: ReactNode;
  items: (MenuItem | null)[];
  align?: 'start' | 'end';
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={5}
          collisionPadding={10}
          className="float z-40 min-w-52 max-w-80 p-1.5"
        >
          {items.map((item, i) =>
            item === null ? (
              <DropdownMenu.Separator key={i} className="my-1 h-px bg-line" />
            ) : (
              <DropdownMenu.Item
                key={i}
                disabled={item.disabled ?? false}
                onSelect={item.run}
                className={ITEM_CLASS(item.danger)}
              >
                <ItemInside item={item} />
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
