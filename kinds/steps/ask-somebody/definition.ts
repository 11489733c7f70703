import { MAIL_BOUNDS } from '../../../core/document/limits.ts';
import { formula, oneOf, optional, result, steps, text, words } from '../../../core/document/meaning.ts';
import { DaysDuration, RecordValue, type Value } from '../../../core/formula/values.ts';
import { display, durationWords } from '../../../core/records/format.ts';
import type { PersonAsk } from '../../../core/routines/asks.ts';
import { defineStep, StepError, type Json, type Outcome, type StepScope } from '../../../core/routines/step.ts';
import { readAnswer, typeOfAnswer } from '../../../core/routines/typed-answer.ts';

/** So many answers are chosen from at most. */
const MOST_CHOICES = 12;

interface Kept {
  ask: PersonAsk;
  said: string;
  /** What it holds for, in words. */
  holdsFor: string;
}

/**
 * Asks people who use the app elsewhere. The question lies on their phones until one of them has answered; the routine
 * goes on then, with the first answer.
 */
export const askSomebody = defineStep({
  do: 'ask somebody',
  said: { name: 'Ask somebody', hint: 'on their phone, and wait for the answer' },
  lasts: true,
  only: 'host',
  properties: {
    to: formula('whom', 'any', { unfilled: { severity: 'stops', said: 'whom to ask is not filled in yet.' } }),
    words: words('the question', { unfilled: { severity: 'stops', said: 'a question has no words yet.' } }),
    as: oneOf('what is answered', {
      choice: 'one of these',
      'long text': 'words',
      number: 'a number',
      date: 'a date',
    }),
    choices: optional(text('the answers to choose from', 400)),
    time: formula('how long at most', 'value', {
      unfilled: { severity: 'stops', said: 'how long to wait for an answer is not filled in.' },
    }),
    result: result('the answer'),
    resultName: text('what it is called'),
    late: steps('what happens when nobody answers', 200, { label: 'When nobody answers' }),
  },
}).does({
  begin: ({ id }) => ({
    to: '',
    words: '',
    as: 'choice',
    choices: 'Yes, No',
    time: '@"P1D"',
    result: id('v'),
    resultName: 'answer',
    late: [],
  }),
  gives: (step) => typeOfAnswer(step.as),
  notes(step) {
    const n = step.as === 'choice' ? choicesIn(step.choices).length : 2;
    if (n < 2) return [{ severity: 'stops', said: 'a question has fewer than two answers to choose from.' }];
    if (n <= MOST_CHOICES) return [];
    return [{ severity: 'stops', said: `a question has ${n} answers to choose from, ${MOST_CHOICES} at most.` }];
  },
  start(step, s) {
    const { value: whom } = s.value(step.to, 'Whom to ask');
    const all: Value[] = Array.isArray(whom) ? [...(whom as Value[])] : [whom];
    const to = [...new Set(all.map((v) => display(v).trim()).filter(Boolean))];
    const people = all.flatMap((v) => (v instanceof RecordValue ? [v.id] : []));
    if (to.length === 0) throw new StepError('There is nobody to ask: whom it is for is empty just now.');
    if (to.length > MAIL_BOUNDS.to)
      throw new StepError(`${MAIL_BOUNDS.to} people at most can be asked; these are ${to.length}.`);
    const said = s.words(step.words).trim();
    if (!said) throw new StepError('The question has no words yet.');
    const { value: time } = s.value(step.time, 'How long to wait');
    if (!(time instanceof DaysDuration))
      throw new StepError(`${s.shown(step.time)} is not a length of time. Type one such as 1 day.`);
    const choices = choicesIn(step.choices).map((c) => ({ value: c, label: c }));
    const question: PersonAsk['question'] =
      step.as === 'choice'
        ? { words: said, wants: 'a choice', choices, later: true }
        : { words: said, wants: 'a value', as: step.as, hint: '', first: '', later: true };
    const at = s.now();
    const ask: PersonAsk = { ask: 'person', to, people, question, at, until: at + Math.max(0, time.ms) };
    const whose = to.join(', ');
    return asked({
      ask,
      said: `Asked ${whose} “${said}”, waiting ${durationWords(time)} at most`,
      holdsFor: `until ${whose} ${to.length === 1 ? 'answers' : 'answer'} “${said}”`,
    });
  },
  answered: (step, s, kept, value) => answered(step.as, s, kept as unknown as Kept, value),
});

const asked = (kept: Kept): Outcome => ({ ask: kept.ask, kept: kept as unknown as Json });

function answered(as: 'choice' | 'long text' | 'number' | 'date', s: StepScope, kept: Kept, value: Value): Outcome {
  const [answer, by] = Array.isArray(value) ? (value as Value[]) : [];
  if (answer === undefined || answer === null) {
    // Looked at again by something else than an answer.
    if (s.now() < kept.ask.until) return asked(kept);
    return { enter: 'late', did: { said: kept.said, gave: 'nobody answered' } };
  }
  // The host has looked whether it is an answer before it took it.
  const read = as === 'choice' ? { value: answer } : readAnswer(as, display(answer));
  if ('problem' in read) throw new StepError(read.problem);
  const { value: result } = read;
  return { did: { said: `${kept.said}: ${display(by ?? '')} answered`, gave: display(result), result } };
}

/** Answers to choose from, as they are typed: separated by commas. */
function choicesIn(typed: string | undefined): string[] {
  const all = (typed ?? '').split(',').map((c) => c.trim());
  return [...new Set(all.filter(Boolean))];
}
