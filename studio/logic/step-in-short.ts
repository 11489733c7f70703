import { elementName } from '../../core/app/names.ts';
import type { App, Element, Step } from '../../core/app/schema.ts';
import { walkElements } from '../../core/document/walk.ts';
import { whereWords } from '../../core/records/conditions.ts';
import type { Model } from '../../core/records/model.ts';
import { stepKinds } from '../../kinds/steps/index.ts';
import { chipLabel } from '../chips/paths.ts';

/** How a step reads before it is taken, with what is still to be filled in as dots. */
export function stepInShort(step: Step, app: App, model: Model): string {
  const value = (stored: string): string => (stored ? chipLabel(model, stored).label : '…');
  const table = (id: string): string => app.tables.find((t) => t.id === id)?.name ?? '…';
  const quote = (words: string): string => (words ? `“${words}”` : '…');
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
      return `${stepKinds.get(step.do)!.said.name}: ${table(step.query.table)}`;
    case 'pdf':
      return `Make a PDF: ${step.query ? table(step.query.table) : '…'}`;
    case 'message':
      return `Show ${quote(step.words)}`;
    case 'speak':
      return `Say aloud ${quote(step.words)}`;
    case 'ask':
    case 'question':
      return `${step.do === 'ask' ? 'Ask yes or no' : 'Ask for a value'}: ${quote(step.words)}`;
    case 'menu':
      if (step.from === 'records') return `Menu: one of ${table(step.query?.table ?? '')}`;
      return `Menu: ${step.choices.map((c) => (c as Extract<Step, { do: 'choice' }>).words).join(', ') || '…'}`;
    case 'set':
      return `Set ${value(step.record)}: ${step.values.map((v) => `${model.nameOf(v.field) ?? '…'} to ${value(v.value)}`).join(', ') || '…'}`;
    case 'raise':
      return `${step.how === 'lower' ? 'Lower' : 'Raise'} ${value(step.record)}: ${step.values.map((v) => `${model.nameOf(v.field) ?? '…'} by ${value(v.value)}`).join(', ') || '…'}`;
    case 'add':
      return `Add to ${table(step.table)}${step.values.map((v) => `, ${model.nameOf(v.field) ?? '…'} ${value(v.value)}`).join('')}`;
    case 'if':
      return step.when.conditions.every((c) => c.left)
        ? `If ${whereWords(step.when, (f) => (f ? value(f) : ''))}`
        : 'If …';
    case 'each':
      return `For each: ${table(step.query.table)}${step.atOnce ? `, up to ${step.atOnce} at once` : ''}`;
    case 'get':
    case 'find':
      return `${stepKinds.get(step.do)!.said.name}: ${table(step.query.table)}`;
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
