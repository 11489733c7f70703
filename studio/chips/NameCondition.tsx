import { Bookmark } from 'lucide-react';
import { useState } from 'react';
import { byName, isNamed, keptCondition, nameCondition } from '../../core/app/named-condition.ts';
import type { Where } from '../../core/document/pieces.ts';
import { useModel } from '../state/model.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';

/** Gives conditions a name: they become a yes or no field, and other lists, steps and words can go by the same. */
export function NameCondition({
  where,
  table,
  onChange,
}: {
  where: Where;
  table: string;
  onChange(where: Where): void;
}) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const [name, setName] = useState('');
  const formula = isNamed(app, table, where) ? null : keptCondition(model, table, where);
  if (!formula) return null;
  const keep = async (): Promise<void> => {
    let id = '';
    await edit(`Kept a condition as ${name.trim()}`, (a) => {
      id = nameCondition(a as typeof app, table, name.trim(), formula);
    });
    onChange(byName(id));
  };
  return (
    <Popover
      width={280}
      trigger={
        <button
          type="button"
          aria-label="Give this condition a name"
          title="Give this condition a name, to use it elsewhere too"
          className="ml-0.5 inline-grid size-5 place-items-center rounded-full align-middle text-ink-soft hover:bg-sunk"
        >
          <Bookmark size={13} aria-hidden />
        </button>
      }
    >
      {(close) => (
        <form
          className="space-y-2 p-3"
          onSubmit={(e) => {
            e.preventDefault();
            if (!name.trim()) return;
            void keep();
            close();
          }}
        >
          <label className="block text-sm">
            <span className="mb-1 block text-ink-soft">
              It becomes a yes/no field that other lists, steps and formulas can use.
            </span>
            <input
              autoFocus
              className="field"
              aria-label="Name of the condition"
              placeholder="Low, for example"
              maxLength={100}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </label>
          <Button look="main" small type="submit" disabled={!name.trim()}>
            Keep it
          </Button>
        </form>
      )}
    </Popover>
  );
}
