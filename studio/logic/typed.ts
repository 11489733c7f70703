import { ElementMaker } from '../../core/app/make.ts';
import { elementName } from '../../core/app/names.ts';
import type { App, Element, Routine, Step, StepKind } from '../../core/app/schema.ts';
import { thisId } from '../../core/document/ids.ts';
import { walkElements } from '../../core/document/walk.ts';
import { allOf } from '../../core/document/queries.ts';
import { raiseInstead } from '../../core/preflight/lost-moves.ts';
import type { Branch } from '../../core/app/steps.ts';
import { endKey, stepReach } from '../../core/routines/reach.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import type { ConditionOp } from '../../core/records/conditions.ts';
import type { Model } from '../../core/records/model.ts';
import type { Field, Table } from '../../core/tables/schema.ts';
import { MOST_AT_ONCE } from '../../kinds/steps/each/definition.ts';
import { stepKinds } from '../../kinds/steps/index.ts';
import { pathsAt, type Path } from '../chips/paths.ts';
import { stepInShort } from './step-in-short.ts';
import { raiseStep } from './typed-raise.ts';
import {
  capital,
  named,
  pathIn,
  recordAtHand,
  sumOf,
  valueOf,
  without,
  type Hand,
  type Understood,
} from './typed-words.ts';

/** The words that people begin with when they mean a kind of step. */
const BEGINNINGS: [StepKind, RegExp][] = [
  ['text message', /^(?:send )?(?:an? )?(?:text(?: message)?|sms)(?: to)?\b/],
  ['pdf', /^(?:make |print |write )?(?:an? )?pdf\b/],
  ['csv', /^(?:make |write |export )?(?:an? )?(?:csv|table file|spreadsheet)\b/],
  ['calendar file', /^(?:make |write )?(?:an? )?(?:calendar|ical)\b/],
  ['contacts', /^(?:make |write )?(?:an? )?(?:contacts?|contact cards?|vcards?)\b/],
  ['qr', /^(?:make )?(?:an? )?qr\b/],
  ['notify', /^(?:notify|let .* know)\b/],
  ['mail', /^(?:send )?(?:an? )?(?:e-?)?mail(?: to)?\b|^write to\b/],
  ['speak', /^(?:say aloud|speak|read out|say out loud)\b/],
  ['message', /^(?:show(?: a)? message|show|say|tell)\b/],
  ['menu', /^(?:let choose|choose from|menu|offer)\b/],
  ['question', /^ask for\b/],
  ['ask', /^(?:ask(?: whether| if)?|confirm)\b/],
  ['each', /^for (?:each|every|all)\b/],
  ['repeat', /^(?:repeat|while)\b/],
  ['hold', /^(?:hold|wait) until\b/],
  ['wait', /^wait(?: for)?\b/],
  ['if', /^(?:if|when)\b/],
  ['run', /^run\b/],
  ['give', /^give back\b/],
  ['stop', /^stop(?: here)?$/],
  ['silence', /^stop the sound\b/],
  ['element', /^(?:hide|enable|disable|scroll to|focus)\b/],
  ['fill', /^fill in\b/],
  ['refresh', /^refresh$/],
  ['sum up', /^(?:sum up|summari[sz]e)\b/],
  ['judge', /^(?:judge|decide whether|sort)\b/],
  ['draft', /^(?:draft|write an answer)\b/],
  ['pull out', /^(?:pull|take|find) (?:out |the |all )*(?:dates|times|numbers|amounts|mails|phones|pages|names)\b/],
  ['describe', /^describe\b/],
  ['caption', /^(?:lay|write) (?:the )?words (?:over|on)\b/],
  ['together', /^together\b/],
  ['remove', /^(?:remove|delete|throw away)\b/],
  ['find', /^find (?:all|several)\b/],
  ['get', /^(?:find|get|look up)\b/],
  ['work out', /^(?:work out|count|add up|reckon)\b/],
  ['add', /^(?:add|create|new|write down|note)\b/],
  ['set', /^(?:set|change|put|make)\b/],
  ['back', /^(?:go )?back\b/],
  ['start', /^(?:go )?to the start\b/],
  ['close', /^close\b/],
  ['address', /^(?:open (?:the )?(?:address|page|web|link)|call|phone|ring)\b/],
  ['open', /^(?:open|go to)\b/],
  ['photo', /^(?:take|pick|choose) (?:a |an )?(?:photo|picture|image)\b|^photo\b/],
  ['scan', /^scan\b/],
  ['place', /^(?:read|find|where).*\bplace\b|^where am i\b/],
  ['record', /^record\b/],
  ['sound', /^play\b/],
  ['buzz', /^(?:buzz|shake|vibrate)\b/],
  ['share', /^share\b/],
  ['copy', /^copy\b/],
  ['save file', /^save (?:a )?file\b/],
  ['notice', /^(?:show )?(?:an? )?notice\b/],
  ['awake', /^(?:keep awake|stay awake|keep the screen)\b/],
];

/**
 * What typed words may mean as a step, the likeliest first: its kind by how they begin, and its places from what is at
 * hand, as far as the words name it. Nothing is taken that was not shown. The step is to stand at the end of `branch`.
 */
export function understood(
  typed: string,
  app: App,
  model: Model,
  routine: Routine,
  make: ElementMaker,
  branch: Branch = null,
): Understood[] {
  const words = typed.trim().replace(/\s+/g, ' ');
  if (words.length < 2) return [];
  const { ends } = stepReach(stepKinds, routine.steps);
  const reach = ends.get(endKey(branch?.of ?? null, branch?.slot));
  const things = thingsInRoutine(stepKinds, model, routine, reach ?? new Set());
  const hand: Hand = { app, model, routine, make, paths: pathsAt(app, model, { self: null, things }, 'any'), things };
  const variable = variableStep(words, hand);
  const found: Understood[] = [variable, raiseStep(words, hand), elementStep(words, hand)].flatMap((u) => u ?? []);
  for (const [kind, begins] of BEGINNINGS) {
    const begin = begins.exec(words.toLowerCase());
    if (!begin) continue;
    const rest = words.slice(begin[0].length).trim();
    const step = FILL[kind]?.(rest, hand) ?? make.step(kind);
    // What is set to itself and something more is better raised; both are offered.
    const instead = raiseInstead(step, (id) => model.field(id));
    if (instead) found.push({ step: instead, said: stepInShort(instead, hand.app, hand.model) });
    found.push({ step, said: stepInShort(step, hand.app, hand.model) });
  }
  return found.slice(0, 4);
}

const tableNames = (t: Table): string[] => [t.name, t.one];

/** A file of records, named after its table where the words name one. */
const fileOf =
  (kind: 'csv' | 'pdf' | 'calendar file' | 'contacts', more: (t: Table) => object) =>
  (rest: string, { app, make }: Hand): Step => {
    const table = named(without(rest, 'file', 'of', 'the', 'all', 'cards', 'for'), app.tables, tableNames)?.it;
    return make.step(kind, table ? { name: table.name, query: allOf(table.id), ...more(table) } : {});
  };
const fieldIds = (t: Table, ...types: Field['type'][]): string[] =>
  t.fields.filter((f) => types.length === 0 || types.includes(f.type)).map((f) => f.id);
const first = (key: string, ids: string[]): object => (ids[0] ? { [key]: ids[0] } : {});

/** The element of any screen that some words name; the longest name counts. */
function elementIn(words: string, app: App, inputs = false): Element | undefined {
  const all: Element[] = [];
  for (const s of app.screens)
    walkElements<Element>([s.root], (e) => {
      if (e.id !== s.root.id && (!inputs || e.kind === 'input')) all.push(e);
    });
  return named(words, all, (e) => [elementName(app, e)])?.it;
}

/** "hide the button", "scroll to the list": what is done, and with which element. */
function elementStep(words: string, hand: Hand): Understood | null {
  const m = /^(show|hide|enable|disable|scroll to|focus)\s+(?:the\s+)?(.+)$/i.exec(words);
  const found = m && elementIn(m[2]!, hand.app);
  if (!m || !found) return null;
  const how = m[1]!.toLowerCase().replace(' to', '') as 'show' | 'hide' | 'enable' | 'disable' | 'scroll' | 'focus';
  const step = hand.make.step('element', { how, element: found.id });
  return { step, said: stepInShort(step, hand.app, hand.model) };
}

/** "count(all Lists) is 0", "status is not Retired", "weight is over 20": what is said between two values. */
const COMPARED: [ConditionOp, RegExp][] = [
  ['at least', /^(.+?)\s*(?:>=|\b(?:is )?at least\b)\s*(.+)$/i],
  ['at most', /^(.+?)\s*(?:<=|\b(?:is )?at most\b)\s*(.+)$/i],
  ['over', /^(.+?)\s*(?:>|\b(?:is )?(?:over|above|more than)\b)\s*(.+)$/i],
  ['under', /^(.+?)\s*(?:<|\b(?:is )?(?:under|below|less than)\b)\s*(.+)$/i],
  ['is empty', /^(.+?)\s+is (?:empty|missing|nothing)()$/i],
  ['is filled', /^(.+?)\s+is (?:filled|there|filled in)()$/i],
  ['is not', /^(.+?)\s*(?:!=|≠|\bis not\b)\s*(.+)$/i],
  ['is', /^(.+?)\s*(?:=|\bis\b)\s*(.+)$/i],
];
function conditionOf(words: string, hand: Hand): { left: string; op: ConditionOp; right: string } | null {
  for (const [op, pattern] of COMPARED) {
    const m = pattern.exec(words);
    if (!m) continue;
    const path = pathIn(without(m[1]!, 'the'), hand.paths);
    const left = path && !path.rest ? path.path.stored : sumOf(m[1]!, hand);
    const field = path && fieldOfStored(hand.app, path.path.stored);
    if (left) return { left, op, right: m[2] ? valueOf(m[2], hand, field ?? undefined) : '' };
  }
  return null;
}
const fieldOfStored = (app: App, stored: string): Field | undefined =>
  app.tables.flatMap((t) => t.fields).find((f) => f.id === stored.split('.').at(-1));

const FILL: { [K in StepKind]?: (rest: string, hand: Hand) => Step } = {
  mail(rest, hand) {
    const isMail = (p: Path): boolean => {
      const id = p.stored.split('.').at(-1)!;
      return hand.app.tables.some((t) => t.fields.some((f) => f.id === id && f.type === 'mail'));
    };
    const found = pathIn(without(rest, 'to', 'the'), hand.paths.filter(isMail));
    const words = without(found?.rest ?? rest, 'saying', 'that', 'about', ':');
    return hand.make.step('mail', {
      ...(found && { to: found.path.stored }),
      ...(words && { subject: capital(words), body: `${capital(words)}.` }),
    });
  },
  csv: fileOf('csv', (t) => ({ columns: fieldIds(t).slice(0, 8) })),
  pdf: fileOf('pdf', (t) => ({ before: `# ${t.name}`, columns: fieldIds(t).slice(0, 5) })),
  'calendar file': fileOf('calendar file', (t) => ({
    ...first('starts', fieldIds(t, 'datetime', 'date')),
    ...first('words', fieldIds(t, 'longtext')),
  })),
  contacts: fileOf('contacts', (t) => ({
    ...first('mail', fieldIds(t, 'mail')),
    ...first('phone', fieldIds(t, 'phone')),
  })),
  'sum up': (rest, hand) =>
    hand.make.step('sum up', { text: pathIn(without(rest, 'the'), hand.paths)?.path.stored ?? '' }),
  judge: (rest, hand) => hand.make.step('judge', { text: pathIn(without(rest, 'the'), hand.paths)?.path.stored ?? '' }),
  draft: (rest, hand) => hand.make.step('draft', { prompt: capital(rest), record: recordAtHand(hand) || undefined }),
  describe: (rest, hand) =>
    hand.make.step('describe', { picture: pathIn(without(rest, 'the'), hand.paths)?.path.stored ?? '' }),
  qr: (rest, { make }) => make.step('qr', { words: without(rest, 'code', 'for', 'of') }),
  'text message'(rest, hand) {
    const isPhone = (p: Path): boolean => {
      const id = p.stored.split('.').at(-1)!;
      return hand.app.tables.some((t) => t.fields.some((f) => f.id === id && f.type === 'phone'));
    };
    const found = pathIn(without(rest, 'to', 'the'), hand.paths.filter(isPhone));
    const words = without(found?.rest ?? rest, 'saying', 'that', ':');
    return hand.make.step('text message', {
      ...(found && { to: found.path.stored }),
      ...(words && { words: capital(words) }),
    });
  },
  notify(rest, hand) {
    const found = pathIn(without(rest, 'the'), hand.paths);
    const words = without(found?.rest ?? rest, 'that', 'saying', 'know', ':');
    return hand.make.step('notify', {
      ...(found && { to: found.path.stored }),
      ...(words && { title: capital(words) }),
    });
  },
  message: (rest, { make }) => make.step('message', { words: capital(without(rest, 'that', ':')) }),
  speak: (rest, { make }) => make.step('speak', { words: capital(rest) }),
  ask: (rest, { make }) => make.step('ask', { words: rest ? `${capital(rest.replace(/\?$/, ''))}?` : '' }),
  question: (rest, { make }) =>
    make.step('question', {
      words: rest ? `${capital(rest.replace(/\?$/, ''))}?` : '',
      ...(/\b(number|how (many|much)|amount|weight|count)\b/i.test(rest) && { as: 'number' as const }),
      ...(/\b(date|day|when)\b/i.test(rest) && { as: 'date' as const }),
    }),
  menu(rest, { app, make }) {
    const table = named(without(rest, 'of', 'the', 'all'), app.tables, tableNames);
    if (table && !table.rest.trim())
      return make.step('menu', { from: 'records', query: allOf(table.it.id), resultName: `chosen ${table.it.one}` });
    const choices = rest
      .split(/\s*,\s*|\s+or\s+/)
      .filter(Boolean)
      .map((w) => make.step('choice', { words: capital(w) }));
    return make.step('menu', { choices });
  },
  if(rest, hand) {
    const condition = conditionOf(rest.replace(/[,:]?\s*(?:then)?$/, ''), hand);
    return hand.make.step('if', condition ? { when: { match: 'all', conditions: [condition] } } : {});
  },
  each(rest, { app, make }) {
    const atOnce = Number(/\b(\d+) at once$/.exec(rest)?.[1] ?? 1);
    const table = named(without(rest, 'the', 'of', 'all'), app.tables, tableNames)?.it;
    return make.step('each', {
      ...(table && { query: allOf(table.id), resultName: `this ${table.one}` }),
      ...(atOnce > 1 && atOnce <= MOST_AT_ONCE && { atOnce }),
    });
  },
  get: (rest, { app, make }) => {
    const table = named(without(rest, 'the', 'a', 'an', 'one'), app.tables, tableNames)?.it;
    return make.step('get', table ? { query: allOf(table.id), resultName: `the ${table.one}` } : {});
  },
  find: (rest, { app, make }) => {
    const table = named(without(rest, 'the', 'of'), app.tables, tableNames)?.it;
    return make.step('find', table ? { query: allOf(table.id), resultName: table.name.toLowerCase() } : {});
  },
  wait(rest, { make }) {
    const m = /^(\d+)\s*(seconds?|secs?|s|minutes?|mins?|min|hours?|h|days?|d)\b/i.exec(rest);
    const unit = m?.[2]?.[0]?.toLowerCase();
    const span = m && (unit === 'd' ? `P${m[1]}D` : `PT${m[1]}${unit === 's' ? 'S' : unit === 'h' ? 'H' : 'M'}`);
    return make.step('wait', span ? { time: `@"${span}"` } : {});
  },
  fill: (rest, { app, make }) => make.step('fill', { element: elementIn(without(rest, 'the'), app, true)?.id ?? '' }),
  run: (rest, { app, make, routine }) => {
    const found = named(without(rest, 'the', 'routine'), app.routines, (r) => [r.name])?.it;
    const fits = found?.given && found.given === routine.given;
    return make.step('run', { ...(found && { routine: found.id }), ...(fits && { record: thisId(found.given!) }) });
  },
  remove: (rest, hand) => {
    const found = pathIn(
      without(rest, 'the'),
      hand.paths.filter((p) => p.type.k === 'record'),
    );
    return hand.make.step('remove', { record: found?.path.stored ?? recordAtHand(hand) });
  },
  add(rest, hand) {
    const table = named(without(rest, 'a', 'an', 'the', 'new', 'record', 'to'), hand.app.tables, (t) => [
      t.one,
      t.name,
    ])?.it;
    const link = table?.fields.find((f) => f.link && f.link.table === hand.routine.given);
    return hand.make.step('add', {
      ...(table && { table: table.id, resultName: `new ${table.one}` }),
      ...(link && { values: [{ field: link.id, value: recordAtHand(hand) }] }),
    });
  },
  set(rest, hand) {
    const table = hand.app.tables.find((t) => t.id === hand.routine.given);
    const found =
      table &&
      named(
        without(rest, 'the', 'its'),
        table.fields.filter((f) => !f.formula),
        (f) => [f.name],
      );
    const to = found ? without(found.rest, 'to', 'as', '=') : '';
    return hand.make.step('set', {
      record: recordAtHand(hand),
      ...(found && { values: [{ field: found.it.id, value: valueOf(to, hand, found.it) }] }),
    });
  },
  open(rest, hand) {
    const target = named(without(rest, 'the', 'screen'), hand.app.screens, (s) => [s.name])?.it;
    const give = target?.given && target.given === hand.routine.given ? thisId(target.given) : '';
    return hand.make.step('open', target ? { screen: target.id, give } : {});
  },
  copy: (rest, { make }) => make.step('copy', { words: rest }),
  share: (rest, { make }) => make.step('share', { words: rest }),
  notice: (rest, { make }) => make.step('notice', { title: capital(rest) }),
  give: (rest, hand) => hand.make.step('give', { value: valueOf(rest, hand) }),
  'work out': (rest, hand) => hand.make.step('work out', { value: pathIn(rest, hand.paths)?.path.stored ?? '' }),
  address(rest, hand) {
    const isPhone = !/^(?:the )?(?:address|page|web|link)/i.test(rest) && hand.paths.length > 0;
    const found = pathIn(without(rest, 'the', 'of'), hand.paths);
    return hand.make.step('address', { how: isPhone ? 'call' : 'open', to: found?.path.stored ?? '' });
  },
};

/** "add 1 to Score", "set Score to 0", "clear Score": a variable by its name. */
function variableStep(words: string, hand: Hand): Understood | null {
  const variables = hand.app.variables ?? [];
  const nameOf = (v: { name: string }): string[] => [v.name];
  const clear = /^(?:clear|empty|reset)\s+(.+)$/i.exec(words);
  const cleared = clear && named(clear[1]!, variables, nameOf)?.it;
  const put = /^(?:set|put)\s+(.+)$/i.exec(words);
  const set = put && named(without(put[1]!, 'the'), variables, nameOf);
  const plus = /^add\s+(.+?)\s+to\s+(.+)$/i.exec(words);
  const added = plus && named(without(plus[2]!, 'the'), variables, nameOf)?.it;
  const step = cleared
    ? hand.make.step('variable', { how: 'clear', variable: cleared.id })
    : set
      ? hand.make.step('variable', {
          how: 'set',
          variable: set.it.id,
          value: valueOf(without(set.rest, 'to', '='), hand),
        })
      : added
        ? hand.make.step('variable', { how: 'add', variable: added.id, value: valueOf(plus[1]!, hand) })
        : null;
  return step && { step, said: stepInShort(step, hand.app, hand.model) };
}
