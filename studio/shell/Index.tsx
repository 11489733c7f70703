import { clsx } from 'clsx';
import { Plus, type LucideIcon } from 'lucide-react';
import { useCallback, type ReactNode, type Ref } from 'react';
import { Link } from 'react-router';

/** The left column: what this workspace holds. */
export function Index({ children, label }: { children: ReactNode; label: string }) {
  return (
    <nav
      aria-label={label}
      className="thin-scroll flex w-[218px] shrink-0 flex-col gap-4 overflow-auto border-r border-line bg-paper px-2.5 py-3.5 max-[1100px]:w-[180px]"
    >
      {children}
    </nav>
  );
}

export function IndexGroup({
  title,
  onAdd,
  addLabel,
  children,
}: {
  title: string;
  onAdd?: (() => void) | undefined;
  addLabel?: string;
  children: ReactNode;
}) {
  return (
    <section>
      <div className="mb-1 flex h-6 items-center justify-between pr-1 pl-1.5">
        <h2 className="font-text text-sm font-semibold tracking-normal text-ink-soft">{title}</h2>
        {onAdd && (
          <button
            type="button"
            aria-label={addLabel}
            onClick={onAdd}
            className="grid size-6 place-items-center rounded-md text-ink-soft hover:bg-sunk"
          >
            <Plus size={15} aria-hidden />
          </button>
        )}
      </div>
      <ul>{children}</ul>
    </section>
  );
}

/** Where an item is taken and dropped, as dnd-kit gives it. */
export interface ItemDrag {
  place(e: HTMLElement | null): void;
  handle(e: HTMLElement | null): void;
  listeners: Record<string, unknown> | undefined;
  describedBy: string;
}

export function IndexItem({
  to,
  icon: Icon,
  name,
  hint,
  selected,
  depth = 0,
  tone = 'plain',
  className,
  drag,
  ref,
  ...rest
}: {
  to: string;
  icon: LucideIcon;
  name: string;
  hint?: ReactNode;
  selected: boolean;
  depth?: number;
  tone?: 'plain' | 'inner';
  className?: string | undefined;
  /** What makes it something that can be dragged. */
  drag?: ItemDrag;
  onClickCapture?: (e: React.MouseEvent) => void;
  ref?: Ref<HTMLLIElement>;
}) {
  const place = useCallback(
    (li: HTMLLIElement | null) => {
      drag?.place(li);
      if (typeof ref === 'function') ref(li);
      else if (ref) ref.current = li;
    },
    [drag?.place, ref],
  );
  return (
    <li ref={place} className={clsx('group relative', className)} {...rest}>
      <Link
        ref={drag?.handle}
        {...drag?.listeners}
        aria-describedby={drag?.describedBy}
        to={to}
        aria-current={selected ? 'true' : undefined}
        draggable={false}
        className={clsx(
          'flex h-[28px] items-center gap-2 rounded-control pr-2',
          selected
            ? tone === 'plain'
              ? 'bg-raised font-semibold shadow-[0_0_0_1px_var(--color-line)]'
              : 'bg-dusk-wash font-semibold text-dusk'
            : 'hover:bg-sunk/70',
        )}
        style={{ paddingLeft: 8 + depth * 14 }}
      >
        <Icon size={15} className={clsx('shrink-0', selected ? '' : 'text-ink-soft')} aria-hidden />
        <span className="min-w-0 flex-1 truncate">{name}</span>
        {hint !== undefined && <span className="text-xs text-ink-faint">{hint}</span>}
      </Link>
    </li>
  );
}
