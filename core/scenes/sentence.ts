import type { App } from '../app/schema.ts';
import type { Scene, SceneStep } from '../app/scene-schema.ts';
import { durationSaid } from './span.ts';
import { spotName } from './spots.ts';
import { tableOf } from '../tables/names.ts';
import { elementOf } from '../app/edits.ts';
import { ownerOf } from '../screens/part-places.ts';

/** A piece of a sentence; what something is called stands out. */
export interface Piece {
  text: string;
  is?: 'who' | 'name';
}

const NETWORKS = {
  on: ' has a network again',
  slow: ' has a slow network',
  off: ' goes offline',
  'answers lost': ' loses the answers of the network',
  twice: ' has a network on which all arrives twice',
} as const;
const FAULTS = {
  none: ' is well again',
  away: ' cannot be reached',
  'too slow': ' is too slow',
  broken: ' has a fault',
} as const;
/** Taps other than the first, by their property. */
const TAPS: Record<string, string> = { long: ' presses long ', swipe: ' swipes ', several: ' marks and does ' };

const say = (text: string): Piece => ({ text });
const name = (text: string, none = 'nothing'): Piece => ({
  text: text.length > 70 ? `${text.slice(0, 70).trimEnd()}…` : text || none,
  is: 'name',
});

/** What a member of the cast is called. */
export function memberName(app: App, { cast }: Pick<Scene, 'cast'>, member: string): string {
  const persona = cast.find((c) => c.id === member)?.persona;
  if (persona?.is === 'person') return persona.name || 'Somebody';
  if (persona?.is === 'invited') return persona.mail;
  return app.access ? 'Nobody signed in' : 'Nobody in particular';
}

/** A step of a scene as a sentence, with what things are called now. */
export function sentence(app: App, scene: Pick<Scene, 'cast'>, step: SceneStep): Piece[] {
  const who: Piece = { text: 'who' in step ? memberName(app, scene, step.who) : '', is: 'who' };
  const fields = (table: string, values: Record<string, unknown>): Piece[] => {
    const all = Object.keys(values).map((f) => tableOf(app, table)?.fields.find((x) => x.id === f)?.name ?? 'a field');
    return all.flatMap((f, i) => [...(i ? [say(', ')] : []), name(f)]);
  };
  const one = (table: string): string => tableOf(app, table)?.one ?? 'record';
  switch (step.do) {
    case 'tap': {
      // What a button says is told as it was read where that depends on records.
      const known = elementOf(app, ownerOf(step.at.element));
      const words = known && step.at.of?.name ? '' : step.at.words;
      const now = spotName(app, { ...step.at, of: undefined, words });
      const isRow = 'query' in (known ?? {});
      const called = isRow && step.at.of ? step.at.of.name : now.includes('…') ? step.at.words : now;
      const of = isRow ? undefined : step.at.of?.name;
      const verb = say(TAPS[step.property ?? ''] ?? ' taps ');
      return [who, verb, name(called), ...(of ? [say(' of '), name(of)] : [])];
    }
    case 'save':
      return Object.keys(step.values).length
        ? [
            who,
            say(step.of ? ' changes ' : ` adds a ${one(step.table)}: `),
            ...(step.of ? [name(step.of.name), say(': ')] : []),
            ...fields(step.table, step.values),
          ]
        : [who, say(' saves the form for '), name(step.of?.name ?? `a new ${one(step.table)}`)];
    case 'fill':
      return [
        who,
        say(' sets '),
        ...fields(step.table, step.values),
        say(' of '),
        name(step.of?.name ?? `a new ${one(step.table)}`),
        say(' to '),
        name(valuesSaid(step.values)),
      ];
    case 'type':
      return [
        who,
        say(' types '),
        name(String(step.cell ?? 'nothing')),
        say(' into '),
        name(app.variables?.find((v) => v.id === step.variable)?.name ?? 'a variable'),
      ];
    case 'look': {
      const { search } = step.change as { search?: unknown };
      return typeof search === 'string'
        ? [who, say(search ? ' looks for ' : ' looks for nothing any more in '), name(search || spotName(app, step.at))]
        : [who, say(' looks otherwise at '), name(spotName(app, step.at))];
    }
    case 'move':
      return [
        who,
        say(' drags '),
        name(step.at.of?.name ?? 'a row'),
        say(step.before ? ' before ' : ' to the end'),
        ...(step.before ? [name(step.before.name)] : []),
      ];
    case 'tab':
      return [
        who,
        say(' goes to '),
        name(app.screens.find((s) => s.id === step.screen)?.name ?? 'a screen that is gone'),
      ];
    case 'back':
      return [who, say(' goes back')];
    case 'answer':
      return [
        who,
        say(' answers '),
        name(step.asked),
        say(step.answer.ok ? ' with ' : ': '),
        name(answerSaid(step.answer)),
      ];
    case 'file':
      return [who, say(' chooses the file '), name(step.name)];
    case 'network':
      return [{ ...who, text: `${who.text}’s phone` }, say(NETWORKS[step.network])];
    case 'clock':
      return [
        { ...who, text: `${who.text}’s phone` },
        say(
          step.ahead === 0
            ? ' has the right time again'
            : ` has a clock that is ${durationSaid(Math.abs(step.ahead))} ${step.ahead > 0 ? 'ahead' : 'behind'}`,
        ),
      ];
    case 'goes off':
      return [{ ...who, text: `${who.text}’s phone` }, say(' goes off at once')];
    case 'opens':
      return [who, say(' opens the app again')];
    case 'comes':
      return [who, say(' comes')];
    case 'goes':
      return [who, say(' goes')];
    case 'signs in':
      return [who, say(' signs in as '), name(step.mail)];
    case 'wait':
      return [
        say(
          `${capital(durationSaid(step.ms))} ${/^(1 \w+|a moment)$/.test(durationSaid(step.ms)) ? 'passes' : 'pass'}`,
        ),
      ];
    case 'until':
      return [
        say('Time passes until '),
        name(step.time),
        ...(step.days ? [say(step.days === 1 ? ' of the next day' : `, ${step.days} days later`)] : []),
      ];
    case 'mail':
      return [
        { text: step.name || step.from, is: 'who' },
        say(step.answers ? ' answers the mail ' : ' writes a mail to the app: '),
        name(step.answers?.subject ?? step.subject, 'without a subject'),
      ];
    case 'call':
      return [
        say('Another system calls '),
        name(app.routines.find((r) => r.id === step.routine)?.name ?? 'a routine that is gone'),
      ];
    case 'fault':
      return [
        name(app.services?.find((s) => s.id === step.service)?.name ?? 'A service that is gone'),
        say(FAULTS[step.fault]),
      ];
    case 'expect seen':
      return [
        who,
        say(step.how === 'is not there' ? ' does not see ' : ' sees '),
        name(spotName(app, step.at)),
        ...(step.how === 'reads' ? [say(', which reads '), name(step.words)] : []),
      ];
    case 'expect told':
      return [who, say(step.how === 'is there' ? ' is told ' : ' is not told '), name(step.words)];
    case 'expect refused':
      return [who, say(' is refused: '), name(step.words)];
    case 'expect sent':
      return [
        say(`${step.how === 'is there' ? 'A' : 'No'} ${step.sort} goes out`),
        ...(step.to ? [say(' to '), name(step.to)] : []),
        say(' with '),
        name(step.words),
      ];
    case 'expect record': {
      const field =
        tableOf(app, step.of.table)?.fields.find((f) => f.id === step.field)?.name ?? 'a field that is gone';
      if (step.how === 'reads')
        return [name(field), say(' of '), name(step.of.name, 'a record'), say(' is '), name(step.words || 'nothing')];
      return [
        name(step.of.name),
        say(` ${step.how} among ${tableOf(app, step.of.table)?.name ?? 'a table that is gone'}`),
      ];
    }
    case 'part':
      return [{ text: step.name, is: 'name' }];
  }
}

export const plainSentence = (app: App, scene: Pick<Scene, 'cast'>, step: SceneStep): string =>
  sentence(app, scene, step)
    .map((p) => p.text)
    .join('');

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
const valuesSaid = (values: Record<string, unknown>): string =>
  Object.values(values)
    .map((v) => (v === null || v === '' ? 'nothing' : String(v)))
    .join(', ');

function answerSaid(answer: Extract<SceneStep, { do: 'answer' }>['answer']): string {
  if (!answer.ok) return answer.reason || 'nothing';
  const { value } = answer;
  if (value === undefined || value === true) return 'yes';
  if (typeof value === 'string') return value.startsWith('data:') || value.startsWith('kept:') ? 'a file' : value;
  return value === false ? 'no' : typeof value === 'number' ? String(value) : 'what was chosen';
}
