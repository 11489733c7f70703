import fc from 'fast-check';
import { expect, it } from 'vitest';
import { preflight } from '../preflight/preflight.ts';
import { hiveApp, HOSTILE, someRecords, T, withHostileNames } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn } from '../session/fixture.ts';
import { generateScreens } from './generate-screens.ts';
import { ElementMaker } from './make.ts';
import { AppSchema } from './schema.ts';

it('screens say the names of tables and fields as they are, whatever is in them (property)', () => {
  const tail = fc.array(fc.constantFrom(...HOSTILE, 'a', ' ', '|', '"', '{{'), { minLength: 1, maxLength: 8 });
  fc.assert(
    fc.property(tail, (letters) => {
      const app = withHostileNames(hiveApp(), `.${letters.join('')}.`);
      const known = { records: new Map(app.tables.map((t) => [t.id, 3])), differ: new Map(), filled: new Map() };
      const { screens, tabs } = generateScreens(app, new ElementMaker(), known);
      Object.assign(app, { screens, tabs });
      expect(AppSchema.safeParse(app).error).toBeUndefined();
      expect(preflight(app).filter((n) => n.severity === 'stops')).toEqual([]);
      const records = new Records(app);
      someRecords(records);
      const hives = app.tables.find((t) => t.id === T.hives)!;
      const [list, detail, form] = screens;
      expect(drawn(app, records, list!.id, null).texts()).toContain(hives.name);
      const page = drawn(app, records, detail!.id, 'bramble');
      expect(page.find('reading').map((r) => r.label)).toContain(
        hives.fields.find((f) => f.name.startsWith('Weight'))!.name,
      );
      expect(page.find('button').map((b) => b.words)).toContain(`Change this ${hives.one}`);
      expect(drawn(app, records, form!.id, null).texts()[0]).toBe(`New ${hives.one}`);
    }),
    { numRuns: 100 },
  );
});
