import { raw, Router } from 'express';
import { z } from 'zod';
import { draft } from '../../core/words/draft.ts';
import { choicesIn, judge } from '../../core/words/judge.ts';
import { PULLED, pullOut, type Pulled } from '../../core/words/pull-out.ts';
import { sumUp } from '../../core/words/sum-up.ts';
import { toJson } from '../../core/formula/json.ts';
import { problem } from './problem.ts';

const Text = z.string().max(200_000);
const Asked = {
  'sum-up': z.object({ text: Text, most: z.number().int().min(1).max(1000).default(3) }),
  judge: z.object({ text: Text, choices: Text }),
  draft: z.object({ prompt: Text, to: Text.default(''), facts: Text.default(''), from: Text.default('') }),
  'pull-out': z.object({ text: Text, kind: z.enum(Object.keys(PULLED) as [Pulled]), year: z.number().optional() }),
};
const factsIn = (lines: string): { name: string; value: string }[] =>
  lines.split('\n').flatMap((line) => {
    const [, name, value] = /^([^:]+):\s*(.*)$/.exec(line) ?? [];
    return name ? [{ name, value: value! }] : [];
  });

/** Answers to the request that Mellow Kite documents for work with words and pictures, by counting; and says that it does. */
export function wordsRoutes(): Router {
  const routes = Router();
  const by = { by: 'counting (stand-in)' };
  const asked = <K extends keyof typeof Asked>(name: K, answer: (given: z.infer<(typeof Asked)[K]>) => object): void =>
    void routes.post(`/words/${name}`, (req, res) => {
      const given = Asked[name].safeParse(req.body);
      if (!given.success) return void res.status(422).json(problem(422, z.prettifyError(given.error)));
      return void res.json({ ...answer(given.data as z.infer<(typeof Asked)[K]>), ...by });
    });
  asked('sum-up', ({ text, most }) => ({ words: sumUp(text, most) }));
  asked('judge', ({ text, choices }) => {
    const found = judge(text, choicesIn(choices));
    return found
      ? { choice: found.choice, why: found.why.join(', '), sure: found.sure }
      : { choice: '', why: '', sure: 0 };
  });
  asked('draft', ({ prompt, to, facts, from }) => ({ words: draft(prompt, to, factsIn(facts), from) }));
  asked('pull-out', ({ text, kind, year }) => ({
    found: pullOut(text, kind, year ?? new Date().getFullYear()).map(toJson),
  }));
  routes.post('/words/describe', raw({ type: 'multipart/form-data', limit: 10_000_000 }), async (req, res) => {
    const headers = { 'content-type': req.get('content-type') ?? '' };
    const form = await new Response(req.body as BodyInit, { headers }).formData().catch(() => null);
    const picture = form?.get('picture');
    if (!(picture instanceof File)) return void res.status(422).json(problem(422, 'Send a picture.'));
    const words = `A picture of ${Math.ceil(picture.size / 1000)} kB (${picture.type || 'of no type'}). This stand-in does not look at it.`;
    return void res.json({ words, sure: 0, ...by });
  });
  return routes;
}
