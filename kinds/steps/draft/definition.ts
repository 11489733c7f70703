import { formula, optional, result, text, words } from '../../../core/document/meaning.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import { BY_COUNTING } from '../../../core/words/methods.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';

/** Drafts an answer from a prompt and what a record says; it invents nothing. */
export const draftStep = defineStep({
  do: 'draft',
  said: { name: 'Draft an answer', hint: 'from a prompt and a record', standIn: BY_COUNTING },
  properties: {
    prompt: words('what is to be said', {
      unfilled: { severity: 'stops', said: 'what to draft is not said yet.' },
      lines: 3,
    }),
    record: optional(formula('the record it is about', 'record')),
    to: optional(formula('who is greeted', 'value')),
    from: optional(words('who signs')),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ prompt: '', result: id('v'), resultName: 'the draft' }),
  gives: () => TEXT,
  start(step, s) {
    const prompt = s.words(step.prompt).trim();
    if (!prompt) throw new StepError('What to draft is not said yet.');
    const row = step.record ? s.record(step.record, 'The record it is about') : null;
    const model = row && s.records.model.tables.get(row.tableId);
    const facts = (model?.table.fields ?? [])
      .filter((f) => !f.link && !fieldKind(f.type).holdsFile)
      .map((f) => ({ name: f.name, value: display(row!.get(f.id), f) }));
    const to = step.to ? s.value(step.to, 'Who is greeted').text : '';
    const what = { do: 'draft' as const, prompt, to, facts, from: s.words(step.from ?? '') };
    return { ask: { ask: 'words', what }, kept: prompt.slice(0, 60) };
  },
  answered: (_step, _s, kept, value) => ({
    did: { said: `Drafted “${String(kept)}”`, gave: display(value), result: value },
  }),
});
