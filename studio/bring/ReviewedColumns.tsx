import { clsx } from 'clsx';
import { fieldKind } from '../../core/fields/kinds.ts';
import { columnTypes, type ColumnType } from '../../core/formats/infer.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { NameField } from '../ui/NameField.tsx';

export interface ReviewedColumn {
  name: string;
  type: ColumnType;
  skip?: boolean;
}

/** What is brought in, before it becomes a table: its columns, whose names and types can be corrected, and first rows. */
export function ReviewedColumns({
  columns,
  rows,
  change,
}: {
  columns: readonly ReviewedColumn[];
  rows: readonly { text: string; misfit?: boolean }[][];
  change(at: number, to: { name: string } | { skip: true } | { type: ColumnType; skip: false }): void;
}) {
  return (
    <div className="thin-scroll overflow-x-auto border-t border-line">
      <table className="w-full border-collapse text-left">
        <thead>
          <tr className="bg-paper/60">
            {columns.map((c, i) => (
              <th
                key={i}
                className={clsx(
                  'border-r border-line px-3 py-2 align-top font-normal last:border-0',
                  c.skip && 'opacity-50',
                )}
              >
                <NameField
                  label={`Name of column ${i + 1}`}
                  value={c.name}
                  onChange={(name) => change(i, { name })}
                  className="font-semibold"
                />
                <div className="mt-1">
                  <ChoiceChip
                    name={`Type of ${c.name}`}
                    value={(c.skip ? 'skip' : c.type) as ColumnType | 'skip'}
                    choices={[
                      ...columnTypes().map((t) => ({ value: t as ColumnType | 'skip', label: fieldKind(t).name })),
                      { value: 'skip' as const, label: 'leave this column out' },
                    ]}
                    onChange={(t) => change(i, t === 'skip' ? { skip: true } : { type: t, skip: false })}
                  />
                </div>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <tr key={i} className="border-t border-line/70">
              {r.map(({ text, misfit }, k) => (
                <td
                  key={k}
                  className={clsx(
                    'max-w-52 truncate border-r border-line/70 px-3 py-1.5 last:border-0',
                    fieldKind(columns[k]?.type ?? 'text').grid?.figures && 'text-right font-mono text-[12px]',
                    columns[k]?.skip && 'opacity-40',
                    misfit && !columns[k]?.skip && 'text-saffron line-through',
                  )}
                  title={misfit ? `${text}: does not fit the type, so it is left empty` : text}
                >
                  {text || <span className="text-ink-faint">empty</span>}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
