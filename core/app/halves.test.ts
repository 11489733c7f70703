import { describe, expect, it } from 'vitest';
import { F, hiveApp, T } from '../records/fixture.ts';
import { goodsRequest, goodsTable, supplier } from '../services/fixture.ts';
import { readApp } from './document.ts';
import { askedHosts } from './elsewhere.ts';
import { phoneHalf } from './halves.ts';
import type { App } from './schema.ts';

const whole = (): App => {
  const app = hiveApp();
  app.tables[0]!.view = {
    where: { match: 'all', conditions: [{ left: F.name, op: 'is', right: '"only the maker looks for this"' }] },
    order: [],
    group: null,
    hidden: [],
    widths: {},
    frozen: 0,
    figures: {},
  };
  app.tables[1]!.place = { x: 7, y: 7 };
  app.screens[0]!.place = { x: 7, y: 7 };
  app.look.icon.picture = 'data:image/png;base64,AAAA';
  return app;
};

describe('the half of a release that phones get', () => {
  it('is a document, with all that is shown and done', () => {
    const app = whole();
    const half = phoneHalf(app);
    expect(readApp(structuredClone(half))).toEqual(half);
    const { tables, screens, routines, files } = app;
    expect(half.tables.map((t) => t.fields)).toEqual(tables.map((t) => t.fields));
    expect(half.screens.map((s) => s.root)).toEqual(screens.map((s) => s.root));
    expect([half.routines, half.files]).toEqual([routines, files]);
    expect(half.tables.find((t) => t.id === T.hives)!.titleField).toBe(tables[0]!.titleField);
  });
  it('has nothing of what only its maker sees', () => {
    const app = whole();
    const before = structuredClone(app);
    const text = JSON.stringify(phoneHalf(app));
    for (const own of ['only the maker', '"place"', '"view"', 'base64,AAAA']) expect(text).not.toContain(own);
    // The document itself stays as it is.
    expect(app).toEqual(before);
  });
  it('says that people sign in, and nothing of who may do what', () => {
    const where = {
      match: 'all' as const,
      conditions: [{ left: F.keeperName, op: 'is' as const, right: '"a rule says so"' }],
    };
    const access: App['access'] = {
      opens: 'people',
      mail: F.mail,
      clears: 7,
      roles: [{ id: 'r_role00000', name: 'Keepers of secrets', where }],
      rules: [{ id: 'u_rule00000', who: 'r_role00000', may: ['see'], table: T.keepers, where }],
    };
    const half = phoneHalf({ ...whole(), people: T.keepers, access: { ...access, domains: ['club.example'] } });
    expect(half.access).toEqual({ ...access, roles: [], rules: [] });
    for (const own of ['a rule says so', 'Keepers of secrets', 'club.example'])
      expect(JSON.stringify(half)).not.toContain(own);
  });
  it('has no part that nobody has decided on', () => {
    const app = { ...whole(), secrets: [{ key: 'hidden' }] } as unknown as App;
    expect(JSON.stringify(phoneHalf(app))).not.toContain('hidden');
  });
  it('knows where and how a service is asked only for what phones ask themselves', () => {
    const table = goodsTable();
    const requests = [
      goodsRequest({ path: '/goods?secret-path', samples: [], about: 'for the maker' }),
      goodsRequest({ id: 'n_other00000', name: 'Other', path: '/hidden' }),
    ];
    const half = (straight: boolean) => {
      const [first, ...others] = requests;
      const app: App = {
        ...whole(),
        tables: [...whole().tables, table],
        services: [supplier({ requests: [{ ...first!, ...(straight && { straight: true as const }) }, ...others] })],
      };
      return phoneHalf(app);
    };
    const kept = JSON.stringify(half(false));
    for (const own of ['secret-path', 'hidden', 'test.goods.example', "$['price']"]) expect(kept).not.toContain(own);
    expect(askedHosts(half(false))).toEqual([]);
    const told = half(true);
    expect(told.services![0]!.requests[0]!.path).toBe('/goods?secret-path');
    expect(told.tables.at(-1)!.fields).toEqual(table.fields);
    expect(JSON.stringify(told)).not.toContain('hidden');
    expect(JSON.stringify(told)).not.toContain('for the maker');
    expect(askedHosts(told)).toEqual(['test.goods.example']);
    // With a key of the service it goes by the host, whatever is said of the request.
    const keyed: App = {
      ...whole(),
      services: [supplier({ sign: { how: 'bearer' }, requests: [{ ...requests[0]!, straight: true }] })],
    };
    expect(JSON.stringify(phoneHalf(keyed))).not.toContain('secret-path');
    expect(askedHosts(keyed)).toEqual([]);
  });
});
