import { aOrAn } from '../../../core/document/names.ts';
import { fieldValues, formula, oneOf, optional, screen } from '../../../core/document/meaning.ts';
import { VARIABLES } from '../../../core/document/ids.ts';
import type { FieldValue } from '../../../core/document/pieces.ts';
import type { Cell } from '../../../core/fields/lists.ts';
import { keptCell } from '../../../core/records/cells.ts';
import { formBeginning } from '../../../core/records/form-values.ts';
import { checkCell } from '../../../core/records/check-cell.ts';
import { defineStep, StepError, type StepScope } from '../../../core/routines/step.ts';

export const open = defineStep({
  do: 'open',
  said: { name: 'Open a screen', hint: '' },
  only: 'phone',
  properties: {
    screen: screen('the screen to open', {
      unfilled: { severity: 'stops', said: 'the screen to open is not chosen.' },
    }),
    give: formula('what the screen is given', 'record'),
    as: optional(
      oneOf('how it opens', { over: 'over this screen', instead: 'in place of this screen', sheet: 'as a sheet' }),
    ),
    height: optional(oneOf('the height of the sheet', { low: 'low', half: 'half', full: 'full' })),
    values: optional(fieldValues('a value it begins with', 'screen')),
  },
}).does({
  begin: () => ({ screen: '', give: '' }),
  start(step, s) {
    const target = s.screens.find((x) => x.id === step.screen);
    if (!target) throw new StepError('The screen to open is not chosen yet.');
    const alone = !step.give && (target.optional || target.finds);
    const row = target.given && !alone ? s.record(step.give, `What ${target.name} is given`) : null;
    if (row && row.tableId !== target.given) {
      const wanted = s.records.model.tables.get(target.given!)?.table.one;
      throw new StepError(
        `${target.name} opens with ${aOrAn(wanted ?? 'record')}, not with ${aOrAn(row.store.model.table.one)}.`,
      );
    }
    const values = step.values?.length ? valuesOf(step.values, target.given, s) : undefined;
    return {
      ask: {
        ask: 'open',
        screen: target.id,
        record: row?.id ?? null,
        ...(step.as && { as: step.as }),
        ...(step.height && { height: step.height }),
        ...(values && { values }),
      },
      did: { said: `Opened ${target.name}${row ? ` with ${row.title()}` : ''}`, gave: target.name },
    };
  },
  notes(step, { screens }) {
    const target = screens.find((x) => x.id === step.screen);
    if (!target?.given || target.optional || target.finds || step.give) return [];
    return [{ severity: 'stops', said: `what ${target.name} is given is not filled in yet.` }];
  },
});

/** What variables of the opened screen, and fields of its form for a new record, begin with. */
function valuesOf(values: readonly FieldValue[], given: string | null, s: StepScope): Record<string, Cell> {
  const { tables } = s.records.model;
  const cells: Record<string, Cell> = {};
  for (const { field, value } of values) {
    const own = tables.get(given ?? '')?.fields.get(field);
    if (own) {
      cells[field] = formBeginning(own, s.value(value, `The value for ${own.name}`).value);
      continue;
    }
    const variable = tables.get(VARIABLES)?.fields.get(field);
    if (!variable) throw new StepError('A value that the screen begins with is not chosen yet.');
    const cell = keptCell(variable, s.value(value, `The value for ${variable.name}`).value);
    const wrong = checkCell(variable, cell);
    if (wrong) throw new StepError(wrong);
    cells[field] = cell;
  }
  return cells;
}
