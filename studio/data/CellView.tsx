import { Paperclip, Volume2 } from 'lucide-react';
import type { Field } from '../../core/tables/schema.ts';
import { listCell } from '../../core/fields/lists.ts';
import type { GridCell } from '../engine/looking.ts';

const PALETTE = ['#DCEBE4', '#E3E7F4', '#FAEDCD', '#FAE4D9', '#EBE4D5', '#E6E2F0', '#DDE9EE', '#F0E4E4'];
/** The eight colours a choice can have, as the grid and the phone draw them. */
export const choiceColour = (n: number | undefined): string => PALETTE[n ?? 4]!;

/** A cell that is not being edited, by the type of its field. */
export function CellView({
  field,
  cell,
  onOpen,
}: {
  field: Field;
  cell: GridCell | undefined;
  /** Opens a linked record; without it a chip is only shown. */
  onOpen?(table: string, record: string): void;
}) {
  if (!cell) return <span className="h-2.5 w-2/3 rounded bg-sunk/70" aria-hidden />;
  if (field.type === 'yesno')
    return cell.raw === null ? null : <span className={cell.raw ? 'text-kelp' : 'text-ink-faint'}>{cell.shown}</span>;
  if (field.link) {
    if (!cell.links?.length) return <span className="text-ink-faint">none</span>;
    return (
      <span className="flex min-w-0 gap-1 overflow-hidden">
        {cell.links.slice(0, 6).map((l) => (
          <Linked key={l.id} title={l.title} {...(onOpen && { onOpen: () => onOpen(field.link!.table, l.id) })} />
        ))}
      </span>
    );
  }
  if (field.type === 'choice' && cell.shown) {
    const names = field.several ? listCell(cell.raw) : [cell.shown];
    return (
      <span className="flex min-w-0 gap-1 overflow-hidden">
        {names.map((name) => (
          <span
            key={name}
            className="truncate rounded-md px-1.5"
            style={{ background: choiceColour(field.choices?.find((c) => c.name === name)?.colour) }}
          >
            {name}
          </span>
        ))}
      </span>
    );
  }
  if (field.type === 'picture' && cell.shown)
    return <span className="truncate text-ink-soft">{cell.shown.replace(/^.*\//, '')}</span>;
  if ((field.type === 'file' || field.type === 'sound') && cell.shown) {
    const Icon = field.type === 'file' ? Paperclip : Volume2;
    return (
      <span className="flex min-w-0 items-center gap-1.5 text-ink-soft">
        <Icon size={13} className="shrink-0" aria-hidden /> <span className="truncate">{cell.shown}</span>
      </span>
    );
  }
  if (field.type === 'id' || field.type === 'code')
    return <span className="truncate font-mono text-[12px]">{cell.shown}</span>;
  if (field.type === 'person' && cell.shown)
    return <span className="truncate rounded-full bg-dusk-wash px-2 text-dusk">{cell.shown}</span>;
  if (cell.raw !== null && !cell.shown && field.type !== 'formula')
    return (
      <span className="truncate text-persimmon-deep" title={`This is not a ${field.type}`}>
        {String(cell.raw)}
      </span>
    );
  return <span className="truncate">{cell.shown}</span>;
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
