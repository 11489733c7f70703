import { describe, expect, it } from 'vitest';
import { fill } from '../fill.ts';
import { givenTo } from '../given.ts';
import { supplier } from '../fixture.ts';
import { RequestSchema } from '../schema.ts';
import { looksLikeOData } from './looks.ts';
import { ODataDescription } from './read.ts';
import '../../formula/patterns-engine.ts';

const V4 = `<?xml version="1.0"?><edmx:Edmx Version="4.0" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:DataServices>
<Schema Namespace="Bees" xmlns="http://docs.oasis-open.org/odata/ns/edm">
<EntityType Name="Thing" Abstract="true"><Key><PropertyRef Name="Id"/></Key><Property Name="Id" Type="Edm.String" Nullable="false"/></EntityType>
<EntityType Name="Order" BaseType="Bees.Thing"><Property Name="Quantity" Type="Edm.Int32"/><Property Name="WantedOn" Type="Edm.Date"/><Property Name="Lines" Type="Collection(Bees.Line)"/><NavigationProperty Name="Member" Type="Bees.Thing"/></EntityType>
<EntityContainer Name="C"><EntitySet Name="Orders" EntityType="Bees.Order"/><FunctionImport Name="Top" Function="Bees.Top"/></EntityContainer>
</Schema></edmx:DataServices></edmx:Edmx>`;
const V2 = `<edmx:Edmx Version="1.0" xmlns:edmx="x"><edmx:DataServices><Schema><EntityType Name="Hive"><Key><PropertyRef Name="Site"/><PropertyRef Name="No"/></Key><Property Name="Site" Type="Edm.Guid"/><Property Name="No" Type="Edm.Int64"/><Property Name="Seen" Type="Edm.DateTime"/></EntityType><EntityContainer><EntitySet Name="Hives" EntityType="N.Hive"/></EntityContainer></Schema></edmx:DataServices></edmx:Edmx>`;
const JSON4 = JSON.stringify({
  $Version: '4.01',
  $EntityContainer: 'Bees.C',
  Bees: {
    Order: { $Kind: 'EntityType', $Key: ['Id'], Id: {}, Quantity: { $Type: 'Edm.Int32' }, Tags: { $Collection: true } },
    C: { $Kind: 'EntityContainer', Orders: { $Collection: true, $Type: 'Bees.Order' } },
  },
});
const read = (text: string) => ODataDescription.read(text, 'It', 'https://bees.example/odata/$metadata');
const url = (text: string, key: string, given: Record<string, string | number>): string => {
  const d = read(text);
  const { request } = d.take(d.operations.find((o) => o.key === key)!);
  const inputs = Object.fromEntries(request.inputs.flatMap((i) => (i.name in given ? [[i.id, given[i.name]!]] : [])));
  const whole = { ...request, id: 'n_odata00000' };
  return fill(
    supplier({ test: d.address }),
    whole,
    'test',
    givenTo(whole, inputs, () => 0),
  ).url;
};

describe('OData metadata', () => {
  it('say what each set of entities can be asked', () => {
    for (const text of [V4, JSON4]) {
      expect(looksLikeOData(text)).toBe(true);
      const d = read(text);
      expect(d.address).toBe('https://bees.example/odata');
      expect(d.operations.map((o) => [o.key, o.need])).toEqual([
        ['GET /Orders', 'list'],
        ['GET /Orders/{key}', 'one'],
        ['POST /Orders', 'add'],
        ['PATCH /Orders/{key}', 'change'],
        ['DELETE /Orders/{key}', 'remove'],
      ]);
      for (const o of d.operations) {
        const { request } = d.take(o);
        expect(RequestSchema.safeParse({ ...request, id: 'n_odata00000' }).error?.issues ?? []).toEqual([]);
      }
      const list = d.take(d.operations[0]!);
      expect([list.answer.at, list.request.paging]).toEqual([
        "$['value'][*]",
        { by: 'address', at: "$['@odata.nextLink']" },
      ]);
      expect(list.answer.fields.find((f) => f.id === list.answer.key)!.name).toBe('Id');
    }
    const d = read(V4);
    const { answer, leftOut } = d.take(d.operations[0]!);
    expect(answer.fields.map((f) => [f.name, f.type])).toEqual([
      ['Id', 'text'],
      ['Quantity', 'number'],
      ['Wanted on', 'date'],
    ]);
    expect([leftOut, d.leftOut]).toEqual([['Lines: a list or an object'], ['Top: a function or action']]);
  });
  it('give keys as addresses have them: quotes doubled, several by name', () => {
    expect(url(V4, 'GET /Orders/{key}', { Id: "O'Hara/1" })).toBe("https://bees.example/odata/Orders('O''Hara%2F1')");
    expect(url(V2, 'GET /Hives/{key}', { Site: 'a-b', No: 7 })).toBe(
      "https://bees.example/odata/Hives(Site=guid'a-b',No=7)",
    );
    expect(url(V4, 'GET /Orders', { Filter: "Quantity gt 5 and Id ne 'x'" })).toContain(
      '%24filter=Quantity+gt+5+and+Id+ne+%27x%27',
    );
  });
  it('of version 2 have their own places', () => {
    const d = read(V2);
    const { answer, request } = d.take(d.operations[0]!);
    expect([answer.at, request.paging]).toEqual(["$['d']['results'][*]", { by: 'address', at: "$['d']['__next']" }]);
  });
  it('that are none are said', () => {
    for (const text of ['<html></html>', '<edmx:Edmx', '{"a":1}', '{'])
      expect(() => read(text)).toThrow(/no OData|no XML|no JSON/);
    expect(looksLikeOData('<html>')).toBe(false);
  });
});
