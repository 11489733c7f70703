import type { CellProps } from '../../../studio/data/CellView.tsx';

/** The records at the other end, as chips that open them. */
export default function LinkCell({ field, cell, onOpen }: CellProps) {
  if (!cell.links?.length) return <span className="text-ink-faint">none</span>;
  return (
    <span className="flex min-w-0 gap-1 overflow-hidden">
      {cell.links.slice(0, 6).map((l) => (
        <Linked key={l.id} title={l.title} {...(onOpen && { onOpen: () => onOpen(field.link!.table, l.id) })} />
      ))}
    </span>
  );
}

function Linked({ title, onOpen }: { title: string; onOpen?: () => void }) {
  const look = 'truncate rounded-md bg-dusk-wash px-1.5 text-dusk';
  if (!onOpen) return <span className={look}>{title}</span>;
  return (
    <button
      type="button"
      tabIndex={-1}
      title={`Open ${title}`}
      onDoubleClick={(e) => e.stopPropagation()}
      onClick={onOpen}
      className={`${look} hover:underline`}
    >
      {title}
    </button>
  );
}
