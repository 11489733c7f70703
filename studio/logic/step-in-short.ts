import { elementName } from '../../core/app/names.ts';
import type { App, Element, Step } from '../../core/app/schema.ts';
import { walkElements } from '../../core/document/walk.ts';
import type { Query, Where } from '../../core/document/pieces.ts';
import { whereWords } from '../../core/records/conditions.ts';
import type { Model } from '../../core/records/model.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { chipLabel } from '../chips/paths.ts';

/** How steps read one after the other, what others hold in braces. */
export const stepsInShort = (
  steps: readonly Step[],
  app: App,
  model: Model,
  said?: ReadonlyMap<string, string>,
): string => steps.map((s) => stepInShort(s, app, model, said)).join('; ');

/**
 * How a step reads before it is taken, with what is still to be filled in as dots. `said` has the words for formulas
 * that were made of words.
 */
export function stepInShort(step: Step, app: App, model: Model, said?: ReadonlyMap<string, string>): string {
  const value = (stored: string): string => said?.get(stored) ?? (stored ? chipLabel(model, stored).label : '…');
  const where = (w: Where): string => whereWords(w, (f) => (f ? value(f) : ''));
  const records = (q: Query | undefined): string => {
    const name = app.tables.find((t) => t.id === q?.table)?.name ?? '…';
    if (q?.via) return value(q.via);
    return q?.where.conditions.length ? `${name} where ${where(q.where)}` : name;
  };
  const table = (id: string): string => app.tables.find((t) => t.id === id)?.name ?? '…';
  const place = /^\{([^{}]+)\}$/;
  const quote = (words: string): string => {
    const only = place.exec(words);
    return only ? value(only[1]!) : words ? `“${words.replace(/\{([^{}]+)\}/g, (_, f: string) => value(f))}”` : '…';
  };
  const holding = (head: string, steps: readonly Step[]): string =>
    steps.length ? `${head}: {${stepsInShort(steps, app, model, said)}}` : head;
  /** A field and what it is set to; what it holds with one more reads without its name. */
  const setTo = (field: string, stored: string): string => {
    const name = model.nameOf(field) ?? '…';
    const words = value(stored);
    return words.startsWith(`${name} with`) ? words : `${name} to ${words}`;
  };
  switch (step.do) {
    case 'mail':
      return `Send mail to ${value(step.to)}: ${quote(step.subject)}`;
    case 'element':
    case 'fill': {
      let shown = '…';
      for (const s of app.screens)
        walkElements<Element>([s.root], (e) => {
          if (e.id === step.element) shown = elementName(app, e);
        });
      const does = step.do === 'fill' ? 'Fill in' : stepKinds.get('element')!.properties['how']!.labels![step.how]!;
      return `${does} ${shown}`;
    }
    case 'text message':
      return `Text message to ${value(step.to)}: ${quote(step.words)}`;
    case 'notify':
      return `Notify ${value(step.to)}: ${quote(step.title)}`;
    case 'csv':
    case 'calendar file':
    case 'contacts':
      return `${stepKinds.get(step.do)!.said.name}: ${records(step.query)}`;
    case 'pdf':
      return `Make a PDF: ${step.query ? records(step.query) : '…'}`;
    case 'qr':
      return step.words ? `Make a QR code of ${quote(step.words)}` : 'Make a QR code';
    case 'share':
      return `Share ${quote(step.words)}`;
    case 'copy':
      return `Copy ${quote(step.words)}`;
    case 'notice':
      return `Notify here ${quote(step.title)}`;
    case 'address': {
      const how = stepKinds.get('address')!.properties['how']!.labels![step.how]!;
      return `${step.how === 'open' ? 'Open an address' : how} ${value(step.to)}`;
    }
    case 'work out':
      return `Work out ${value(step.value)}`;
    case 'give':
      return `Give back ${value(step.value)}`;
    case 'sum up':
    case 'judge':
      return `${stepKinds.get(step.do)!.said.name} ${value(step.text)}`;
    case 'describe':
      return `Describe ${value(step.picture)}`;
    case 'message':
      return `Show ${quote(step.words)}`;
    case 'speak':
      return `Say aloud ${quote(step.words)}`;
    case 'ask':
    case 'question':
      return `${step.do === 'ask' ? 'Ask yes or no' : 'Ask for a value'}: ${quote(step.words)}`;
    case 'menu':
      if (step.from !== 'choices') return `Menu: one of ${records(step.query)}`;
      return `Menu: ${step.choices.map((c) => (c as Extract<Step, { do: 'choice' }>).words).join(', ') || '…'}`;
    case 'set':
      return `Set ${value(step.record)}: ${step.values.map((v) => setTo(v.field, v.value)).join(', ') || '…'}`;
    case 'raise':
      return `${step.how === 'lower' ? 'Lower' : 'Raise'} ${value(step.record)}: ${step.values.map((v) => `${model.nameOf(v.field) ?? '…'} by ${value(v.value)}`).join(', ') || '…'}`;
    case 'total': {
      const of = step.keys.map((v) => `${model.nameOf(v.field) ?? '…'} ${value(v.value)}`).join(', ');
      const by = step.values.map((v) => `${model.nameOf(v.field) ?? '…'} by ${value(v.value)}`).join(', ');
      return `${step.how === 'lower' ? 'Lower' : 'Raise'} the total in ${table(step.table)} of ${of || '…'}: ${by || '…'}`;
    }
    case 'add':
      return `Add to ${table(step.table)}${step.values.map((v) => `, ${model.nameOf(v.field) ?? '…'} ${value(v.value)}`).join('')}`;
    case 'if': {
      if (!step.when.conditions.every((c) => c.left)) return 'If …';
      const otherwise = step.otherwise.length ? ` otherwise {${stepsInShort(step.otherwise, app, model, said)}}` : '';
      return `${holding(`If ${where(step.when)}`, step.then)}${otherwise}`;
    }
    case 'repeat':
      return holding(`Repeat while ${where(step.when)}`, step.steps);
    case 'hold':
      return `Hold until ${where(step.when)}`;
    case 'each':
      return holding(
        `For each: ${records(step.query)}${step.atOnce ? `, up to ${step.atOnce} at once` : ''}`,
        step.steps,
      );
    case 'get':
    case 'find':
      return `${stepKinds.get(step.do)!.said.name}: ${records(step.query)}`;
    case 'open':
      return `Open ${app.screens.find((s) => s.id === step.screen)?.name ?? '…'}${step.give ? ` with ${value(step.give)}` : ''}`;
    case 'run':
      return `Run ${app.routines.find((r) => r.id === step.routine)?.name ?? '…'}`;
    case 'remove':
      return `Remove ${value(step.record)}`;
    case 'wait':
      return `Wait ${value(step.time)}`;
    case 'variable': {
      const name = app.variables?.find((v) => v.id === step.variable)?.name ?? '…';
      return step.how === 'clear'
        ? `Clear ${name}`
        : step.how === 'add'
          ? `Add ${value(step.value)} to ${name}`
          : `Set ${name} to ${value(step.value)}`;
    }
    default:
      return stepKinds.get(step.do)!.said.name;
  }
}
