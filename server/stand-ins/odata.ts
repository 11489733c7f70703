import { Router } from 'express';
import type { KeptJson } from './kept-json.ts';
import { nextId, Order, tagOf } from './orders.ts';

const METADATA = `<?xml version="1.0" encoding="utf-8"?>
<edmx:Edmx Version="4.0" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:DataServices>
<Schema Namespace="Heatherfield" xmlns="http://docs.oasis-open.org/odata/ns/edm">
<EntityType Name="Order"><Key><PropertyRef Name="id"/></Key>
<Property Name="id" Type="Edm.String" Nullable="false"/>
<Property Name="member" Type="Edm.String"/>
<Property Name="good" Type="Edm.String" Nullable="false"/>
<Property Name="quantity" Type="Edm.Int32" Nullable="false"/>
<Property Name="wantedOn" Type="Edm.Date"/>
<Property Name="note" Type="Edm.String"/>
<Property Name="state" Type="Edm.String"/>
<Property Name="made" Type="Edm.DateTimeOffset"/>
</EntityType>
<EntityContainer Name="Container"><EntitySet Name="Orders" EntityType="Heatherfield.Order"/></EntityContainer>
</Schema></edmx:DataServices></edmx:Edmx>`;

const PAGE = 50;
const error = (code: string, message: string): object => ({ error: { code, message } });

/** One comparison of `$filter`: `quantity gt 5`, `state eq 'open'`; several joined by `and`. */
function filtered(orders: readonly Order[], filter: string): Order[] | null {
  const tests: ((o: Order) => boolean)[] = [];
  for (const part of filter.split(/\s+and\s+/i)) {
    const contains = /^contains\((\w+),\s*'((?:[^']|'')*)'\)$/.exec(part.trim());
    if (contains) {
      const [, name, text] = contains;
      tests.push((o) => String(o[name as keyof Order] ?? '').includes(text!.replaceAll("''", "'")));
      continue;
    }
    const [, name, op, raw] = /^(\w+)\s+(eq|ne|gt|ge|lt|le)\s+(.+)$/.exec(part.trim()) ?? [];
    if (!name || !(name in Order.shape)) return null;
    const value = raw!.startsWith("'")
      ? raw!.slice(1, -1).replaceAll("''", "'")
      : raw === 'null'
        ? null
        : Number.isNaN(Number(raw))
          ? raw!
          : Number(raw);
    tests.push((o) => {
      const own = o[name as keyof Order];
      if (op === 'eq') return own === value;
      if (op === 'ne') return own !== value;
      if (own === null || value === null) return false;
      const order = own < value ? -1 : own > value ? 1 : 0;
      return { gt: order > 0, ge: order >= 0, lt: order < 0, le: order <= 0 }[op as 'gt'];
    });
  }
  return orders.filter((o) => tests.every((t) => t(o)));
}

/** The orders as an OData 4.01 service has them, in small: list, filter, one, make, change, remove, with entity tags. */
export function odataRoutes(orders: KeptJson<Order>, base: () => string): Router {
  const routes = Router();
  const shown = (o: Order): object => ({ '@odata.etag': tagOf(o), ...o });
  routes.get('/$metadata', (_req, res) => void res.type('application/xml').send(METADATA));
  routes.get(
    '/',
    (_req, res) =>
      void res.json({
        '@odata.context': `${base()}/$metadata`,
        value: [{ name: 'Orders', kind: 'EntitySet', url: 'Orders' }],
      }),
  );
  routes.get('/Orders', (req, res) => {
    const filter = String(req.query['$filter'] ?? '');
    const found = filter ? filtered(orders.list, filter) : [...orders.list];
    if (!found) return void res.status(400).json(error('BadFilter', 'This filter is not understood.'));
    const [by, how] = String(req.query['$orderby'] ?? 'id').split(/\s+/) as [keyof Order, string?];
    found.sort((a, b) => (String(a[by] ?? '') < String(b[by] ?? '') ? -1 : 1) * (how === 'desc' ? -1 : 1));
    const skip = Math.max(0, Number(req.query['$skip'] ?? 0) || 0);
    const top = Math.min(PAGE, Math.max(0, Number(req.query['$top'] ?? PAGE) || PAGE));
    const next = new URLSearchParams(req.query as Record<string, string>);
    next.set('$skip', String(skip + top));
    return void res.json({
      '@odata.context': `${base()}/$metadata#Orders`,
      ...(req.query['$count'] === 'true' && { '@odata.count': found.length }),
      value: found.slice(skip, skip + top).map(shown),
      ...(skip + top < found.length && { '@odata.nextLink': `${base()}/Orders?${next}` }),
    });
  });
  routes.post('/Orders', async (req, res) => {
    const asked = Order.pick({ good: true, quantity: true }).safeParse(req.body);
    if (!asked.success) return void res.status(400).json(error('BadOrder', asked.error.issues[0]!.message));
    const { wantedOn, note } = req.body as Partial<Order>;
    const order: Order = {
      id: nextId(orders.list),
      member: 'odata',
      ...asked.data,
      wantedOn: typeof wantedOn === 'string' ? wantedOn : null,
      note: typeof note === 'string' ? note : '',
      state: 'open',
      made: new Date().toISOString(),
    };
    orders.list.push(order);
    await orders.save();
    return void res.status(201).set('etag', tagOf(order)).json(shown(order));
  });
  // An entity by its key, as in Orders('4711').
  routes.all(/^\/Orders\('([^']+)'\)$/, async (req, res) => {
    const id = (req.params as Record<string, string>)[0]!;
    const at = orders.list.findIndex((o) => o.id === id);
    const order = orders.list[at];
    if (!order) return void res.status(404).json(error('NotFound', `There is no order ${id.slice(0, 40)}.`));
    const match = req.get('if-match');
    if (match && match !== '*' && match !== tagOf(order))
      return void res.status(412).json(error('Changed', 'The order was changed meanwhile.'));
    if (req.method === 'GET') return void res.set('etag', tagOf(order)).json(shown(order));
    if (req.method === 'DELETE') {
      orders.list.splice(at, 1);
      await orders.save();
      return void res.status(204).end();
    }
    if (req.method !== 'PATCH') return void res.status(405).end();
    const asked = Order.pick({ quantity: true, note: true, wantedOn: true, state: true }).partial().safeParse(req.body);
    if (!asked.success) return void res.status(400).json(error('BadOrder', asked.error.issues[0]!.message));
    Object.assign(order, asked.data);
    await orders.save();
    return void res.set('etag', tagOf(order)).json(shown(order));
  });
  return routes;
}
