import type { Routine } from '../../core/app/schema.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import type { Type } from '../../core/formula/types.ts';
import type { Table } from '../../core/tables/schema.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';

/** The table of a record, or of the records of a list. */
function tableIn(type: Type | undefined): string | null {
  const one = type?.k === 'list' ? type.of : type;
  return one?.k === 'record' ? one.table : null;
}

/** The table a stored path leads to, when it leads to a record or several. */
export function useTableOf(routine: Routine): (formula: string) => Table | undefined {
  const app = useApp();
  const model = useModel();
  return (formula) => {
    const [head, ...rest] = formula.split('.');
    const thing = thingsInRoutine(stepKinds, model, routine).find((t) => t.id === head);
    let table = tableIn(thing?.type);
    for (const hop of rest) table = table && tableIn(model.members(table).find((m) => m.id === hop)?.type);
    return app.tables.find((t) => t.id === table);
  };
}
