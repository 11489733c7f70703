import { aOrAn } from '../../../core/document/names.ts';
import { formula, screen } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

export const open = defineStep({
  do: 'open',
  said: { name: 'Open a screen', hint: '' },
  properties: {
    screen: screen('the screen to open', {
      unfilled: { severity: 'stops', said: 'the screen to open is not chosen.' },
    }),
    give: formula('what the screen is given', 'record'),
  },
}).does({
  begin: () => ({ screen: '', give: '' }),
  start(step, s) {
    const target = s.screens.find((x) => x.id === step.screen);
    if (!target) throw new StepError('The screen to open is not chosen yet.');
    const row = target.given ? s.record(step.give, `What ${target.name} is given`) : null;
    if (row && row.tableId !== target.given) {
      const wanted = s.records.model.tables.get(target.given!)?.table.one;
      throw new StepError(
        `${target.name} opens with ${aOrAn(wanted ?? 'record')}, not with ${aOrAn(row.store.model.table.one)}.`,
      );
    }
    return {
      ask: { ask: 'open', screen: target.id, record: row?.id ?? null },
      did: { said: `Opened ${target.name}${row ? ` with ${row.title()}` : ''}`, gave: target.name },
    };
  },
  notes(step, { screens }) {
    const target = screens.find((x) => x.id === step.screen);
    if (!target?.given || target.optional || step.give) return [];
    return [{ severity: 'stops', said: `what ${target.name} is given is not filled in yet.` }];
  },
});
