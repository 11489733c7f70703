import { listCell } from '../../../core/fields/lists.ts';
import { choiceColour, type CellProps } from '../../../studio/data/CellView.tsx';

export default function ChoiceCell({ field, cell }: CellProps) {
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
