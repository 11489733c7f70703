import { draft } from '../words/draft.ts';
import { judge } from '../words/judge.ts';
import { pullOut } from '../words/pull-out.ts';
import { sumUp } from '../words/sum-up.ts';
import type { WordsAsk } from './asks.ts';
import { keptValue, type KeptValue } from '../records/kept-value.ts';

/** Answers by plain published methods, on the device. Throws in words where nothing can be said. */
export function plainWords(what: WordsAsk): KeptValue {
  switch (what.do) {
    case 'sum up':
      return sumUp(what.text, what.most);
    case 'draft':
      return draft(what.prompt, what.to, what.facts, what.from);
    case 'pull out':
      return { list: pullOut(what.text, what.kind, what.year).map(keptValue) };
    case 'judge': {
      const found = judge(what.text, what.choices);
      if (!found) throw new Error('None of the choices fits these words better than the others.');
      return {
        context: { choice: found.choice, why: found.why.join(', '), sure: Math.round(found.sure * 100) / 100 },
      };
    }
  }
}
