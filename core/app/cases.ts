import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import { walkElements } from '../document/walk.ts';
import type { TriggerValue } from '../routines/trigger-values.ts';
import type { Field, FieldType, Table } from '../tables/schema.ts';
import { addField, addTable, pickedLink } from './edits.ts';
import { ElementMaker } from './make.ts';
import { routineFor } from './row-sections.ts';
import type { App, BoxElement, Element, Routine, Step } from './schema.ts';
import { addScreensFor } from './screens-for.ts';
import { showAs } from './shown-as.ts';

/**
 * A help desk fed by mail, as a whole: a mail becomes a case for each thread, summed up, judged and answered; it is answered
 * from a draft in the thread, and closed. It is made of tables, screens and routines like any other.
 */

const STATES = ['new', 'answered', 'closed'] as const;
const PRIORITIES = ['high', 'normal', 'low'] as const;
/** Which words make a case urgent, or not; the maker goes on from here. */
const JUDGED = 'high: urgent, danger, broken, today, immediately, help\nlow: question, idea, thanks, whenever';
/** Somebody answers within a day of work where the app says when it is open, within a day otherwise. */
const dueIn = (app: App): string =>
  app.work ? 'after working time(now(), duration("PT8H"))' : 'now() + duration("P1D")';

const text = (words: string): string => JSON.stringify(words);

/** Fields by their names. */
type Fields<Name extends string> = Readonly<Record<Name, Field>>;
function fieldsOf<Name extends string>(app: App, table: Table, types: Readonly<Record<Name, FieldType>>): Fields<Name> {
  const made = Object.entries(types).map(([name, type]) => [name, addField(app, table.id, type as FieldType, name)]);
  return Object.fromEntries(made) as Fields<Name>;
}

const choices = (names: readonly string[]) => ({
  only: true,
  choices: names.map((name, colour) => ({ name, colour })),
});

/** Adds cases that come by mail to an app. Gives the routine that makes them. */
export function addCases(app: App, make = new ElementMaker()): Routine {
  const cases = addTable(app, 'Cases');
  const [subject] = cases.fields as [Field];
  subject.name = 'Subject';
  const c = fieldsOf(app, cases, {
    State: 'choice',
    Priority: 'choice',
    'In short': 'longtext',
    From: 'mail',
    'Due by': 'datetime',
    Late: 'formula',
  });
  Object.assign(c.State, choices(STATES));
  Object.assign(c.Priority, choices(PRIORITIES));
  c.Late.formula = `${c.State.id} != "closed" and ${c['Due by'].id} < now()`;
  const messages = addTable(app, 'Messages');
  const [from] = messages.fields as [Field];
  Object.assign(from, { name: 'From', type: 'mail' });
  const m = fieldsOf(app, messages, {
    To: 'mail',
    Words: 'longtext',
    When: 'datetime',
    Thread: 'text',
    Mail: 'text',
    File: 'file',
    Case: 'link',
  });
  m.Case.link = pickedLink(app, cases, messages.name);
  const parts: Parts = { app, make, cases, messages, c: { ...c, Subject: subject }, m: { ...m, From: from } };
  addScreensFor(app, cases.id);
  addScreensFor(app, messages.id);
  const comes = mailBecomesCase(parts);
  const answer = answersByMail(parts);
  const close = routineFor(make, app, cases, 'Close the case', [
    make.step('set', { record: thisId(cases.id), values: [{ field: c.State.id, value: text('closed') }] }),
    make.step('message', { words: 'Closed.', has: 'undo' }),
  ]);
  app.routines.push(comes, answer, close);
  putScreens(parts, answer, close);
  return comes;
}

interface Parts {
  app: App;
  make: ElementMaker;
  cases: Table;
  messages: Table;
  c: Fields<'Subject' | 'State' | 'Priority' | 'In short' | 'From' | 'Due by' | 'Late'>;
  m: Fields<'From' | 'To' | 'Words' | 'When' | 'Thread' | 'Mail' | 'File' | 'Case'>;
}

/** The first mail of a thread opens a case; those that follow are added to it, and open it again. */
function mailBecomesCase({ app, make, cases, messages, c, m }: Parts): Routine {
  const input = (name: string, type: FieldType, from: TriggerValue, more: object = {}) =>
    ({ id: make.id('v'), name, type, first: '', from, ...more }) as NonNullable<Routine['inputs']>[number];
  const mail = {
    sender: input('Sender', 'text', 'sender'),
    subject: input('Subject', 'text', 'subject'),
    words: input('Words', 'longtext', 'words of the mail'),
    thread: input('Thread', 'text', 'thread of the mail'),
    id: input('Mail', 'text', 'id of the mail'),
    files: input('Files', 'file', 'files of the mail', { several: true }),
  };
  const [earlier, gist, made, judged] = ['v', 'v', 'v', 'v'].map((l) => make.id(l)) as [string, string, string, string];
  const keep = (of: string): Step =>
    make.step('add', {
      table: messages.id,
      values: [
        { field: m.From.id, value: mail.sender.id },
        { field: m.Words.id, value: mail.words.id },
        { field: m.When.id, value: 'now()' },
        { field: m.Thread.id, value: mail.thread.id },
        { field: m.Mail.id, value: mail.id.id },
        { field: m.File.id, value: `${mail.files.id}[1]` },
        { field: m.Case.id, value: of },
      ],
      result: make.id('v'),
      resultName: 'message',
    });
  const opens: Step[] = [
    make.step('sum up', { text: mail.words.id, most: 1, result: gist, resultName: 'gist' }),
    make.step('add', {
      table: cases.id,
      values: [
        { field: c.Subject.id, value: mail.subject.id },
        { field: c.State.id, value: text('new') },
        { field: c.Priority.id, value: text('normal') },
        { field: c['In short'].id, value: gist },
        { field: c.From.id, value: mail.sender.id },
        { field: c['Due by'].id, value: dueIn(app) },
      ],
      result: made,
      resultName: 'new case',
    }),
    keep(made),
    make.step('mail', {
      to: mail.sender.id,
      subject: `Re: {${mail.subject.id}}`,
      body: `Thank you for your mail. We answer it by {${made}.${c['Due by'].id}}.`,
      answers: mail.id.id,
    }),
    // Words that do not say how urgent it is leave it as it is.
    { ...make.step('judge', { text: mail.words.id, choices: JUDGED, result: judged, resultName: 'judgement' }), ifFails: [make.step('stop')], reason: make.id('v') },
    make.step('set', { record: made, values: [{ field: c.Priority.id, value: `${judged}.choice` }] }),
    make.step('stop'),
  ];
  const isThread = { left: m.Thread.id, op: 'is' as const, right: mail.thread.id };
  const find = make.step('get', {
    query: { ...allOf(messages.id), where: { match: 'all', conditions: [isThread] } },
    result: earlier,
    resultName: 'earlier message',
  });
  return {
    ...routineFor(make, app, cases, 'A mail becomes a case', [
      { ...find, ifFails: opens, reason: make.id('v') },
      keep(`${earlier}.${m.Case.id}`),
      make.step('set', { record: `${earlier}.${m.Case.id}`, values: [{ field: c.State.id, value: text('new') }] }),
    ]),
    given: null,
    inputs: Object.values(mail),
    starts: [{ on: 'mail came', by: 'person' }],
  };
} // prettier-ignore

/** The last mail of whoever wrote is answered: a draft is made, read and changed on the phone, and sent in the thread. */
function answersByMail({ app, make, cases, messages, c, m }: Parts): Routine {
  const me = thisId(cases.id);
  const [last, draft, words] = ['v', 'v', 'v'].map((l) => make.id(l)) as [string, string, string];
  const of = (field: Field): string => `${last}.${field.id}`;
  return routineFor(make, app, cases, 'Answer by mail', [
    {
      ...make.step('get', {
        query: {
          ...allOf(messages.id),
          where: {
            match: 'all',
            conditions: [
              { left: m.Case.id, op: 'is', right: me },
              { left: m.Mail.id, op: 'is filled', right: '' },
            ],
          },
          order: [{ by: m.When.id, descending: true }],
        },
        result: last,
        resultName: 'their last mail',
      }),
      ifFails: [make.step('message', { words: 'No mail came in this case.' }), make.step('stop')],
      reason: make.id('v'),
    },
    make.step('draft', { prompt: 'thank you for your mail', record: me, from: app.name, result: draft, resultName: 'draft' }),
    make.step('question', {
      words: `What to write to {${of(m.From)}}`, as: 'long text', hint: 'Read it, and change what is not right', first: draft, result: words, resultName: 'what is written',
    }),
    make.step('mail', { to: of(m.From), subject: `Re: {${me}.${c.Subject.id}}`, body: `{${words}}`, answers: of(m.Mail) }),
    make.step('add', {
      table: messages.id,
      values: [
        { field: m.To.id, value: of(m.From) },
        { field: m.Words.id, value: words },
        { field: m.When.id, value: 'now()' },
        { field: m.Thread.id, value: of(m.Thread) },
        { field: m.Case.id, value: me },
      ],
      result: make.id('v'),
      resultName: 'answer',
    }),
    make.step('set', { record: me, values: [{ field: c.State.id, value: text('answered') }] }),
    make.step('message', { words: 'The answer is on its way.' }),
  ]);
} // prettier-ignore

/** Cases by their state, the late ones marked; in each its messages as they were said, and what can be done. */
function putScreens({ app, make, cases, messages, c, m }: Parts, answer: Routine, close: Routine): void {
  const me = thisId(cases.id);
  const message = (field: Field): string => `${thisId(messages.id)}.${field.id}`;
  const list = app.screens.find((s) => !s.given && holdsListOf(s.root, cases.id))!;
  walkElements<Element>([list.root], (e) => {
    if (e.kind !== 'list' || e.query.table !== cases.id) return;
    e.query.order = [{ by: c['Due by'].id, descending: false }];
    e.children = [
      make.box('down', [
        make.text(`{${me}.${c.Subject.id} | "No subject"}`, 'strong'),
        make.text(`{${me}.${c.From.id}}`, 'small', { colour: 'soft' }),
        make.box('across', [
          make.make('badge', { words: 'urgent', tone: 'bad', seenWhen: `${me}.${c.Priority.id} = "high"` }),
          make.make('badge', { words: 'late', tone: 'look', seenWhen: `${me}.${c.Late.id}` }),
        ], { gap: 8 }),
      ], { gap: 4, inside: 12 }),
    ];
    showAs(app, e.id, 'board', make);
  });
  const detail = app.screens.find((s) => s.given === cases.id && !s.optional)!;
  walkElements<Element>([detail.root], (e) => {
    if (e.kind !== 'list' || e.query.table !== messages.id) return;
    e.query.order = [{ by: m.When.id, descending: false }];
    e.children = [
      make.box('down', [
        make.text(`{if ${message(m.Mail)} = null then "Us" else ${message(m.From)}} · {${message(m.When)}}`, 'small', { colour: 'soft' }),
        make.text(`{${message(m.Words)}}`),
        make.text(`With a file: {${message(m.File)}}`, 'small', { seenWhen: `${message(m.File)} != null` }),
      ], { gap: 4, inside: 12 }),
    ];
  });
  (detail.root as BoxElement).children.push(
    make.button('Answer by mail', { do: 'routine', routine: answer.id }, { icon: 'send' }),
    make.button('Close the case', { do: 'routine', routine: close.id }, { look: 'quiet', icon: 'check' }),
  );
} // prettier-ignore

function holdsListOf(root: Element, table: string): boolean {
  let holds = false;
  walkElements<Element>([root], (e) => {
    if (e.kind === 'list' && e.query.table === table) holds = true;
  });
  return holds;
}
