import { clsx } from 'clsx';
import type { LucideProps } from 'lucide-react';
import type { ComponentType } from 'react';

export interface MenuItem {
  label: string;
  icon?: ComponentType<LucideProps>;
  hint?: string;
  danger?: boolean;
  disabled?: boolean;
  run(): void;
}

/** How an item of a menu looks. */
export const ITEM_CLASS = (danger?: boolean): string =>
  clsx(
    'flex min-h-[30px] cursor-pointer items-center gap-2.5 rounded-md px-2 outline-none data-[disabled]:opacity-45 data-[highlighted]:bg-sunk',
    danger && 'text-persimmon-deep',
  );

/** Its icon, its name and what stands at its right. */
export function ItemInside({ item }: { item: MenuItem }) {
  return (
    <>
      {item.icon && <item.icon size={15} className="shrink-0" />}
      <span className="flex-1 truncate">{item.label}</span>
      {item.hint && <span className="text-xs text-ink-faint">{item.hint}</span>}
    </>
  );
}
