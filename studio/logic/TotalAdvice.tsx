import { toast } from 'sonner';
import { addField } from '../../core/app/edits.ts';
import { setFormula } from '../../core/app/formula-unit.ts';
import type { Routine, Step } from '../../core/app/schema.ts';
import { whatFits } from '../../core/app/total-fits.ts';
import { toFormula } from '../../core/formula/guided.ts';
import { useApp, useStudio } from '../state/studio.ts';

/** Says below a step that adds to a number whether that, or a formula field that adds records up, fits what it is for. */
export function TotalAdvice({ routine, step }: { routine: Routine; step: Extract<Step, { do: 'total' | 'raise' }> }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const found = whatFits(app, routine, step);
  if (!found) return null;
  if (found.fits === 'step')
    return (
      <span className="block text-sm leading-5 text-ink-faint">
        No record keeps this amount, so changing the number by it is right.
      </span>
    );
  const { table, amounts, formulas } = found;
  const make = async (): Promise<void> => {
    const names: string[] = [];
    await edit(`Added up ${amounts.name} in ${table.name}`, (a) => {
      for (const { name, sentence } of formulas) {
        const field = addField(a, table.id, 'formula', name);
        setFormula(a, field, toFormula(sentence)!);
        names.push(`“${field.name}”`);
      }
    });
    toast(
      `${table.name} has ${names.join(' and ')} now. This step can be removed where nothing else needs its number.`,
    );
  };
  return (
    <span className="block text-sm leading-5 text-ink-soft">
      A formula field fits better: each of {amounts.name} is an amount, so {table.name} can add them up, also after one
      was changed or removed.{' '}
      <button
        type="button"
        className="font-semibold text-kelp underline decoration-line-strong underline-offset-4"
        onClick={() => void make()}
      >
        Make that field
      </button>
    </span>
  );
}
