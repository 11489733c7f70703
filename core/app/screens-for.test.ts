import { expect, it } from 'vitest';
import { hiveApp, T } from '../records/fixture.ts';
import { aboutOf } from './about.ts';
import { addScreen } from './edits.ts';
import { addScreensFor } from './screens-for.ts';

it('screens are about the table whose records they show', () => {
  const app = { ...hiveApp(), screens: [], tabs: [] };
  const welcome = addScreen(app, 'Welcome');
  const hives = addScreensFor(app, T.hives);
  const visits = addScreensFor(app, T.visits);
  const later = addScreen(app, 'Later');
  later.given = T.hives;
  const about = aboutOf(app);
  for (const s of [...hives, later]) expect(about.get(s.id)).toBe('Hives');
  for (const s of visits) expect(about.get(s.id)).toBe('Visits');
  // Those about one table are told one after the other, and those about none last.
  expect([...new Set(about.values())]).toEqual(['Hives', 'Visits', 'Other screens']);
  expect([...about.keys()].at(-1)).toBe(welcome.id);
});
