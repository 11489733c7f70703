import { createHash } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { problem } from './problem.ts';
import type { KeptJson } from './kept-json.ts';
import { fieldErrors, type Members } from './members.ts';

export const Order = z.object({
  id: z.string(),
  member: z.string(),
  good: z.string(),
  quantity: z.number(),
  wantedOn: z.string().nullable(),
  note: z.string(),
  state: z.enum(['open', 'packed', 'sent']),
  made: z.string(),
});
export type Order = z.infer<typeof Order>;

const Wanted = z.object({
  good: z.string().regex(/^G-\d{4}$/, 'A good has a number such as G-0042.'),
  quantity: z
    .number('The quantity is a number.')
    .int('Whole pieces only.')
    .min(1, 'At least one.')
    .max(500, 'At most 500 at once.'),
  wantedOn: z.iso.date('A day such as 2026-12-24.').nullish(),
  note: z.string().max(500).optional(),
});

/** The entity tag of an order (RFC 9110, 8.8.3). */
export const tagOf = (order: Order): string =>
  `"${createHash('sha256').update(JSON.stringify(order)).digest('hex').slice(0, 16)}"`;

/** The number of the next order. */
export const nextId = (orders: readonly Order[]): string =>
  String(orders.reduce((most, o) => Math.max(most, Number(o.id) || 0), 4710) + 1);

/** Orders of those who have signed in. */
export function orderRoutes(members: Members, orders: KeptJson<Order>): Router {
  const routes = Router();
  /** Orders that were made under a key of whoever asked come once. */
  const byKey = new Map<string, Order>();
  routes.use('/orders', async (req, res, next) => {
    const member = await members.of(req);
    if (!member) return void res.status(401).json(problem(401, 'Sign in first.'));
    res.locals['member'] = member;
    return next();
  });
  const own = (res: { locals: Record<string, unknown> }): string => (res.locals['member'] as { id: string }).id;
  routes.get('/orders', (_req, res) => void res.json({ items: orders.list.filter((o) => o.member === own(res)) }));
  routes.post('/orders', async (req, res) => {
    const key = req.get('idempotency-key');
    const known = key ? byKey.get(`${own(res)} ${key}`) : undefined;
    if (known) return void res.status(200).json(known);
    const asked = Wanted.safeParse(req.body);
    if (!asked.success)
      return void res
        .status(422)
        .json(problem(422, 'Some fields are not right.', { errors: fieldErrors(asked.error) }));
    const { good, quantity, wantedOn = null, note = '' } = asked.data;
    const made = new Date().toISOString();
    const order: Order = {
      id: nextId(orders.list),
      member: own(res),
      good,
      quantity,
      wantedOn,
      note,
      state: 'open',
      made,
    };
    orders.list.push(order);
    if (key) byKey.set(`${own(res)} ${key}`, order);
    await orders.save();
    return void res
      .status(201)
      .set({ etag: tagOf(order), location: `/orders/${order.id}` })
      .json(order);
  });
  routes.get('/orders/:id', (req, res) => {
    const order = orders.list.find((o) => o.id === req.params.id && o.member === own(res));
    if (!order) return void res.status(404).json(problem(404, 'There is no such order.'));
    res.set('etag', tagOf(order));
    return void (req.get('if-none-match') === tagOf(order) ? res.status(304).end() : res.json(order));
  });
  routes.patch('/orders/:id', async (req, res) => {
    const order = orders.list.find((o) => o.id === req.params.id && o.member === own(res));
    if (!order) return void res.status(404).json(problem(404, 'There is no such order.'));
    const match = req.get('if-match');
    if (match && match !== tagOf(order))
      return void res.status(412).json(problem(412, 'The order was changed meanwhile.'));
    const asked = Wanted.partial().safeParse(req.body);
    if (!asked.success)
      return void res
        .status(422)
        .json(problem(422, 'Some fields are not right.', { errors: fieldErrors(asked.error) }));
    Object.assign(order, Object.fromEntries(Object.entries(asked.data).filter(([, v]) => v !== undefined)));
    await orders.save();
    return void res.set('etag', tagOf(order)).json(order);
  });
  routes.delete('/orders/:id', async (req, res) => {
    const at = orders.list.findIndex((o) => o.id === req.params.id && o.member === own(res));
    if (at < 0) return void res.status(404).json(problem(404, 'There is no such order.'));
    orders.list.splice(at, 1);
    await orders.save();
    return void res.status(204).end();
  });
  return routes;
}
