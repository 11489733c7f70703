import type { ElementMaker } from '../core/app/make.ts';
import type { App, Routine, Step } from '../core/app/schema.ts';
import { allOf } from '../core/document/queries.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** A mail about a swarm becomes a report for each thread, summed up and judged; a scale sends what a hive weighs. */
export function addSwarmMail(app: App, n: Names, make: ElementMaker): void {
  const { routine } = makingOf(app, make);
  const input = (name: string, type: string, from?: string) =>
    ({ id: make.id('v'), name, type, first: '', ...(from && { from }) }) as NonNullable<Routine['inputs']>[number];
  const reports = n.table('Swarm reports');
  const messages = n.table('Messages');
  const report = (name: string): string => n.field('Swarm reports', name);
  const message = (name: string): string => n.field('Messages', name);
  const inputs = {
    sender: input('Sender', 'text', 'sender'),
    subject: input('Subject', 'text', 'subject'),
    words: input('Words', 'longtext', 'words of the mail'),
    thread: input('Thread', 'text', 'thread of the mail'),
    id: input('Mail', 'text', 'id of the mail'),
    files: { ...input('Files', 'file', 'files of the mail'), several: true },
  };
  const keep = (of: string): Step =>
    make.step('add', {
      table: messages.id,
      values: [
        { field: message('Thread'), value: inputs.thread.id },
        { field: message('From'), value: inputs.sender.id },
        { field: message('To'), value: '"swarms@heatherfield.example"' },
        { field: message('Words'), value: inputs.words.id },
        { field: message('When'), value: 'now()' },
        { field: message('Mail'), value: inputs.id.id },
        { field: message('File'), value: `${inputs.files.id}[1]` },
        { field: message('Report'), value: of },
      ],
      result: make.id('v'),
      resultName: 'message',
    });
  const [earlier, gist, judged, made] = ['earlier', 'gist', 'judged', 'made'].map(() => make.id('v')) as [string, string, string, string]; // prettier-ignore
  const isNew: Step[] = [
    make.step('sum up', { text: inputs.words.id, most: 1, result: gist, resultName: 'gist' }),
    make.step('add', {
      table: reports.id,
      values: [
        { field: report('What'), value: gist },
        { field: report('Where'), value: inputs.subject.id },
        { field: report('State'), value: '"waiting"' },
        { field: report('Reported by'), value: '"mail"' },
        { field: report('Due by'), value: 'after working time(now(), duration("PT8H"))' },
      ],
      result: made,
      resultName: 'new report',
    }),
    keep(made),
    {
      ...make.step('judge', {
        text: inputs.words.id,
        choices:
          'high: school, children, sting, house, chimney, road, low, hanging, window\nlow: tree, quiet, wall, gone, old, looks, calm',
        result: judged,
        resultName: 'judgement',
      }),
      // Words that do not say it are read by somebody.
      ifFails: [make.step('stop')],
      reason: make.id('v'),
    },
    make.step('set', { record: made, values: [{ field: report('Priority'), value: `${judged}.choice` }] }),
    make.step('mail', {
      to: inputs.sender.id,
      subject: `Re: {${inputs.subject.id}}`,
      body: `Thank you for telling us. Somebody looks at it by {${made}.${report('Due by')}}.\n\nHeatherfield Bees`,
      answers: inputs.id.id,
    }),
    make.step('stop'),
  ];
  routine(
    'A mail about a swarm',
    null,
    [
      {
        ...make.step('get', {
          query: {
            ...allOf(messages.id),
            where: { match: 'all', conditions: [{ left: message('Thread'), op: 'is', right: inputs.thread.id }] },
          },
          result: earlier,
          resultName: 'earlier message',
        }),
        ifFails: isNew,
        reason: make.id('v'),
      },
      keep(`${earlier}.${message('Report')}`),
      make.step('set', {
        record: `${earlier}.${message('Report')}`,
        values: [{ field: report('State'), value: '"waiting"' }],
      }),
    ],
    { inputs: Object.values(inputs), starts: [{ on: 'mail came', by: 'person' }] },
  );

  const [tag, weight] = [input('Tag', 'text'), input('Weight', 'number')];
  const hive = make.id('v');
  routine(
    'A scale sends a weight',
    null,
    [
      make.step('get', {
        query: {
          ...allOf(n.table('Hives').id),
          where: { match: 'all', conditions: [{ left: n.field('Hives', 'Tag code'), op: 'is', right: tag.id }] },
        },
        result: hive,
        resultName: 'hive on the scale',
      }),
      make.step('set', { record: hive, values: [{ field: n.field('Hives', 'Weight'), value: weight.id }] }),
    ],
    { inputs: [tag, weight], starts: [{ on: 'hook called', proof: 'secret', once: 'Idempotency-Key' }] },
  );
}
