import type { Routine } from '../../core/app/schema.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import type { Table } from '../../core/tables/schema.ts';
import { stepKinds } from '../../kinds/steps/index.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';

/** The table a stored path leads to, when it leads to one record. */
export function useTableOf(routine: Routine): (formula: string) => Table | undefined {
  const app = useApp();
  const model = useModel();
  return (formula) => {
    const [head, ...rest] = formula.split('.');
    const thing = thingsInRoutine(stepKinds, model, routine).find((t) => t.id === head);
    let table: string | null = thing?.type.k === 'record' ? thing.type.table : null;
    for (const hop of rest) {
      const type = table ? model.members(table).find((m) => m.id === hop)?.type : undefined;
      table = type?.k === 'record' ? type.table : null;
    }
    return app.tables.find((t) => t.id === table);
  };
}
