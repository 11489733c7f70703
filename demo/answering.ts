import type { ElementMaker } from '../core/app/make.ts';
import type { App, Element, Routine } from '../core/app/schema.ts';
import { allOf } from '../core/document/queries.ts';
import { thisId } from '../core/document/ids.ts';
import { walkElements } from '../core/document/walk.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** The messages of a report as they were said: from whom, when, and the words. */
function showThread(app: App, n: Names, make: ElementMaker): void {
  const message = (of: string): string => `${thisId(n.table('Messages').id)}.${n.field('Messages', of)}`;
  walkElements<Element>([app.screens.find((s) => s.name === 'Swarm report')!.root], (e) => {
    if (e.kind !== 'list') return;
    e.query.order = [{ by: n.field('Messages', 'When'), descending: false }];
    e.children = [
      make.box(
        'down',
        [
          make.text(`{${message('From')}} · {${message('When')}}`, 'small', { colour: 'soft' }),
          make.text(`{${message('Words')}}`),
          make.text(`With a file: {${message('File')}}`, 'small', { seenWhen: `${message('File')} != null` }),
        ],
        { gap: 4, inside: 12 },
      ),
    ];
  });
}

/** Whoever has reported a swarm by mail is answered in the thread: a draft is made, read and changed, and sent. */
export function addAnswer(app: App, n: Names, make: ElementMaker): Routine {
  const { say, caught, routine } = makingOf(app, make);
  const reports = n.table('Swarm reports').id;
  const messages = n.table('Messages').id;
  const report = thisId(reports);
  const message = (of: string): string => n.field('Messages', of);
  const [last, drafted, words] = ['v', 'v', 'v'].map((l) => make.id(l)) as [string, string, string];
  const draft = make.step('draft', {
    prompt: 'thank you for your report. Somebody of us comes to look at it; please keep away from the bees until then',
    record: report,
    from: 'Heatherfield Bees',
    result: drafted,
    resultName: 'draft',
  });
  showThread(app, n, make);
  return routine('Answer by mail', reports, [
    draft,
    {
      ...make.step('get', {
        query: {
          ...allOf(messages),
          where: {
            match: 'all',
            conditions: [
              { left: message('Report'), op: 'is', right: report },
              { left: message('From'), op: 'is not', right: '"swarms@heatherfield.example"' },
            ],
          },
          order: [{ by: message('When'), descending: true }],
        },
        result: last,
        resultName: 'their last mail',
      }),
      // Reported in the app: nobody wrote a mail that could be answered.
      ifFails: [
        caught(make.step('copy', { words: `{${drafted}}` }), 'No mail came with this report, and the draft could not be copied.'),
        say('No mail came with this report. The draft is copied.'),
        make.step('stop'),
      ],
      reason: make.id('v'),
    },
    make.step('question', {
      words: `What to write to {${last}.${message('From')}}`,
      as: 'long text',
      hint: 'Read it, and change what is not right',
      first: drafted,
      result: words,
      resultName: 'what is written',
    }),
    make.step('mail', {
      to: `${last}.${message('From')}`,
      subject: `Re: {${report}.${n.field('Swarm reports', 'Where')}}`,
      body: `{${words}}`,
      answers: `${last}.${message('Mail')}`,
    }),
    make.step('add', {
      table: messages,
      values: [
        { field: message('Thread'), value: `${last}.${message('Thread')}` },
        { field: message('From'), value: '"swarms@heatherfield.example"' },
        { field: message('To'), value: `${last}.${message('From')}` },
        { field: message('Words'), value: words },
        { field: message('When'), value: 'now()' },
        { field: message('Report'), value: report },
      ],
      result: make.id('v'),
      resultName: 'answer',
    }),
    make.step('set', { record: report, values: [{ field: n.field('Swarm reports', 'State'), value: '"answered"' }] }),
    say('The answer is on its way.'),
  ]);
} // prettier-ignore
