import { listCell } from '../../../core/fields/lists.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { LinkInput, LinksInput } from '../../../player/LinkInput.tsx';

/** Picks a record of another table, or several. */
export default function LinkedInput({ e, id, value, set }: InputProps) {
  const common = { id, table: e.link!, set, label: e.label, adds: e.adds };
  return e.several ? (
    <LinksInput {...common} value={listCell(value)} />
  ) : (
    <LinkInput {...common} value={value === null ? null : String(value)} />
  );
}
