import type { LucideIcon } from 'lucide-react';
import {
  Bell,
  CalendarClock,
  Cloud,
  Eye,
  FileText,
  Mail,
  Power,
  Smartphone,
  Timer,
  UserRound,
  Webhook,
  Wifi,
} from 'lucide-react';
import type { SceneStep } from '../../core/app/scene-schema.ts';

/** What stands out in the picture of a step, by the ids that records have there; undefined where it has none. */
export function focusOf(
  step: SceneStep,
  ids: Readonly<Record<string, string>>,
): { element: string; record: string | null } | undefined {
  // A form, or a list that is looked through, is larger than its picture.
  if (!('at' in step) || step.do === 'save' || step.do === 'look') return undefined;
  const { element, of } = step.at;
  return element ? { element, record: of ? (ids[of.record] ?? of.record) : null } : undefined;
}

/** Is the picture of a step the phone as it was before, or after it? Null for a step without one. */
export function pictureOf(step: SceneStep): 'before' | 'after' | null {
  if (step.do === 'expect seen' || step.do === 'expect told') return 'after';
  if (['tap', 'save', 'fill', 'type', 'look', 'move', 'answer'].includes(step.do)) return 'before';
  return step.do === 'tab' || step.do === 'back' || step.do === 'opens' || step.do === 'comes' ? 'after' : null;
}

const ICONS: Partial<Record<SceneStep['do'], LucideIcon>> = {
  wait: Timer,
  until: CalendarClock,
  mail: Mail,
  call: Webhook,
  fault: Cloud,
  network: Wifi,
  clock: Timer,
  'goes off': Power,
  goes: UserRound,
  'signs in': UserRound,
  file: FileText,
  'expect sent': Mail,
  'expect refused': Bell,
  'expect record': Eye,
};

/** A sign for a step without a picture. */
export const iconOf = (step: SceneStep): LucideIcon => ICONS[step.do] ?? Smartphone;
