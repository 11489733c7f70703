import { clsx } from 'clsx';
import { DropdownMenu, Popover as Radix } from 'radix-ui';
import type { LucideProps } from 'lucide-react';
import { useState, type ComponentType, type ReactNode } from 'react';

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

export interface MenuItem {
  label: string;
  icon?: ComponentType<LucideProps>;
  hint?: string;
  danger?: boolean;
  disabled?: boolean;
  run(): void;
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
                className={clsx(
                  'flex min-h-[30px] cursor-pointer items-center gap-2.5 rounded-md px-2 outline-none data-[disabled]:opacity-45 data-[highlighted]:bg-sunk',
                  item.danger && 'text-persimmon-deep',
                )}
              >
                {item.icon && <item.icon size={15} className="shrink-0" />}
                <span className="flex-1 truncate">{item.label}</span>
                {item.hint && <span className="text-xs text-ink-faint">{item.hint}</span>}
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
