import { Cloud, Palette, PanelsTopLeft, Rows3, Sigma, SquareArrowOutUpRight, Table2, Workflow } from 'lucide-react';
import type { LucideIcon } from 'lucide-react';
import { elementName, kindName } from '../../core/app/names.ts';
import type { App, Element } from '../../core/app/schema.ts';
import { walkElements } from '../../core/document/walk.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { ELEMENT_WORDS } from '../../kinds/elements/search-words.ts';
import { THEMES } from '../../kinds/themes/index.ts';
import { THEME_WORDS } from '../../kinds/themes/search-words.ts';
import { FIELD_WORDS } from '../../kinds/fields/search-words.ts';
import { COMMANDS } from './commands.ts';
import type { Findable } from './search.ts';

/** Something that Find leads to. */
export interface Thing extends Findable {
  key: string;
  group: 'Tables and fields' | 'Screens' | 'Routines' | 'Services' | 'Go to, or do';
  icon: LucideIcon;
  /** Where it is, below the app. */
  to?: string;
  /** The command it is. */
  command?: string;
}

/** Everything in an app that has a name, and the places and commands of the studio. */
export function thingsIn(app: App): Thing[] {
  const fields = app.tables.flatMap((t): Thing[] => [
    { key: t.id, group: 'Tables and fields', icon: Table2, name: t.name, words: ['table'], to: `data/${t.id}` },
    ...t.fields.map((f): Thing => ({
      key: f.id,
      group: 'Tables and fields',
      icon: Sigma,
      name: f.name,
      hint: t.name,
      to: `data/${t.id}/${f.id}`,
      words: ['field', ...FIELD_WORDS[f.type]],
    })),
  ]);
  const screens = app.screens.flatMap((s): Thing[] => {
    const found: Thing[] = [
      { key: s.id, group: 'Screens', icon: PanelsTopLeft, name: s.name, hint: 'screen', to: `screens/${s.id}` },
    ];
    walkElements<Element>([s.root], (e) => {
      // What people look for has a name, or does something when it is tapped or filled.
      const does = Object.values(elementKinds.get(e.kind)?.properties ?? {}).some((p) => p.is === 'tap' && !p.optional);
      if (!e.name && !does) return;
      found.push({
        key: e.id,
        group: 'Screens',
        icon: Rows3,
        name: e.name ?? `${kindName(e.kind)} ${elementName(app, e)}`,
        hint: s.name,
        to: `screens/${s.id}/${e.id}`,
        words: ['element', ...ELEMENT_WORDS[e.kind]],
      });
    });
    return found;
  });
  const routines = app.routines.map((r): Thing => ({
    key: r.id,
    group: 'Routines',
    icon: Workflow,
    name: r.name,
    words: ['routine'],
    to: `logic/${r.id}`,
  }));
  const services = (app.services ?? []).flatMap((s): Thing[] => [
    { key: s.id, group: 'Services', icon: Cloud, name: s.name, words: ['service', 'api'], to: `services/${s.id}` },
    ...s.requests.map((r): Thing => ({
      key: r.id,
      group: 'Services',
      icon: Cloud,
      name: r.name,
      hint: s.name,
      words: ['request', r.method],
      to: `services/${r.id}`,
    })),
  ]);
  const themes = THEMES.map((t): Thing => ({
    key: `theme ${t.id}`,
    group: 'Go to, or do',
    icon: Palette,
    name: `Theme ${t.name}`,
    words: THEME_WORDS[t.id],
    to: 'screens/theme',
  }));
  const commands = COMMANDS.map((c): Thing => ({
    key: c.id,
    group: 'Go to, or do',
    icon: SquareArrowOutUpRight,
    name: c.name,
    words: c.words,
    ...(c.to ? { to: c.to } : { command: c.id }),
  }));
  return [...commands, ...themes, ...fields, ...screens, ...routines, ...services];
}
