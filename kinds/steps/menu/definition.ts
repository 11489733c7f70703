import { oneOf, optional, query, result, steps, text, words } from '../../../core/document/meaning.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** As many records as a menu offers; more nobody looks through. */
const MOST = 200;

interface Choice {
  id: string;
  do: string;
  words: string;
  off?: true;
}

/** Offers choices of its own, records, or both, and goes on by what was chosen. */
export const menu = defineStep({
  do: 'menu',
  said: { name: 'Choose from a menu', hint: 'and go on by the choice' },
  lasts: true,
  only: 'phone',
  properties: {
    words: words('the words over the menu', { unfilled: { severity: 'look', said: 'a menu has no words over it.' } }),
    from: oneOf('what it offers', {
      choices: 'these choices',
      records: 'records',
      both: 'records, then these choices',
    }),
    query: optional(query('which records')),
    result: result('what was chosen'),
    resultName: text('what was chosen'),
    choices: steps('its choices', 40, { only: 'choice' }),
  },
}).does({
  begin: ({ id }) => ({
    words: '',
    from: 'choices',
    query: allOf(NO_TABLE),
    result: id('v'),
    resultName: 'what was chosen',
    choices: [],
  }),
  gives: (step) => (step.from === 'choices' ? TEXT : { k: 'record', table: step.query?.table ?? '' }),
  notes(step, { tables }) {
    if (step.from !== 'choices' && !tables.some((t) => t.id === step.query?.table))
      return [{ severity: 'stops', said: 'the records of a menu are not chosen.' }];
    return step.from === 'records' || step.choices.length
      ? []
      : [{ severity: 'stops', said: 'a menu has no choices.' }];
  },
  start(step, s) {
    const said = s.words(step.words);
    const records = step.from === 'choices' ? [] : s.find(step.query ?? allOf(NO_TABLE)).slice(0, MOST);
    const choices = step.from === 'records' ? [] : (step.choices as unknown as Choice[]);
    const offered = [
      ...records.map((r) => ({ value: { table: r.tableId, record: r.id }, label: r.title() })),
      ...choices.flatMap((c) => (c.do === 'choice' && !c.off ? [{ value: c.id, label: s.words(c.words) }] : [])),
    ];
    if (offered.length === 0) throw new StepError('There is nothing to choose from.');
    return { ask: { ask: 'question', question: { words: said, wants: 'a choice', choices: offered } }, kept: said };
  },
  answered(step, s, kept, value) {
    const said = `Asked “${String(kept)}”`;
    if (value === null) throw new StepError('Nothing was chosen.');
    if (step.from !== 'choices' && typeof value === 'object' && 'title' in value)
      return { did: { said, gave: (value as { title(): string }).title(), result: value } };
    // A release may have changed the choices while the menu was open. Menus of earlier versions gave the place.
    const at = typeof value === 'number' ? value : step.choices.findIndex((c) => c.id === value);
    const chosen = step.choices[at] as unknown as Choice | undefined;
    if (!chosen) throw new StepError('What was chosen is not there any more.');
    const label = s.words(chosen.words);
    // Behind records stand choices that are none of them, such as a new one: then none was chosen.
    return { enter: 'choices', only: at, did: { said, gave: label, result: step.from === 'choices' ? label : null } };
  },
});
