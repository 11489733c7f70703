import { ContextMenu as Radix } from 'radix-ui';
import { useState, type ReactElement } from 'react';
import type { MenuItem } from './menu-item.tsx';
import { ITEM_CLASS, ItemInside } from './menu-item.tsx';

/**
 * A menu by the right button of the mouse, the menu key or a long press on what is inside. `items` is asked when it
 * opens; with none of them nothing opens.
 */
export function ContextMenu({ children, items }: { children: ReactElement; items(): (MenuItem | null)[] }) {
  const [shown, setShown] = useState<(MenuItem | null)[]>([]);
  return (
    <Radix.Root open={shown.length > 0} onOpenChange={(open) => setShown(open ? items() : [])}>
      <Radix.Trigger asChild>{children}</Radix.Trigger>
      <Radix.Portal>
        <Radix.Content collisionPadding={10} className="float z-40 max-w-80 min-w-52 p-1.5">
          {shown.map((item, i) =>
            item === null ? (
              <Radix.Separator key={i} className="my-1 h-px bg-line" />
            ) : (
              <Radix.Item
                key={i}
                disabled={item.disabled ?? false}
                onSelect={item.run}
                className={ITEM_CLASS(item.danger)}
              >
                <ItemInside item={item} />
              </Radix.Item>
            ),
          )}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
