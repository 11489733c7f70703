import type { App } from '../../core/app/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Part } from './StepPart.tsx';

type Values = Record<string, string | number | boolean | null>;

/** The values that somebody fills in at a step, each by its field. */
export function StepValues({
  app,
  table,
  values,
  change,
}: {
  app: App;
  table: string;
  values: Values;
  change(values: Values): void;
}) {
  const fields = app.tables.find((t) => t.id === table)?.fields ?? [];
  return Object.entries(values).map(([id, cell]) => {
    const field = fields.find((f) => f.id === id);
    const set = (next: Cell): void => change({ ...values, [id]: next });
    return (
      <Part key={id} label={field?.name ?? 'A field that is gone'}>
        {field?.choices && !field.several ? (
          <ChoiceChip
            name={field.name}
            value={cell}
            empty="nothing"
            choices={field.choices.map((c) => ({ value: c.name as Cell, label: c.name }))}
            onChange={set}
          />
        ) : typeof cell === 'boolean' ? (
          <ChoiceChip
            name={field?.name ?? 'Value'}
            value={cell}
            choices={[
              { value: true, label: 'yes' },
              { value: false, label: 'no' },
            ]}
            onChange={set}
          />
        ) : field?.link || String(cell ?? '').length > 2000 ? (
          <span className="text-ink-soft">{field?.link ? 'as it was chosen' : 'a file'}</span>
        ) : (
          <input
            aria-label={field?.name ?? 'Value'}
            className="field min-w-0 flex-1"
            value={String(cell ?? '')}
            onChange={(e) => {
              const text = e.target.value;
              const n = Number(text);
              set(typeof cell === 'number' && text !== '' && Number.isFinite(n) ? n : text);
            }}
          />
        )}
      </Part>
    );
  });
}
