import { Router } from 'express';
import { seededRandom } from '../../core/document/ids.ts';
import { problem } from './problem.ts';

export interface Good {
  id: string;
  name: string;
  category: string;
  unit: string;
  price: number;
  inStock: number;
  since: string;
  words: string;
}

const CATEGORIES: [name: string, unit: string, things: string[]][] = [
  ['Frames', 'piece', ['Deep frame', 'Shallow frame', 'Drone frame', 'Feeder frame', 'Foundation sheet']],
  ['Hive parts', 'piece', ['Brood box', 'Super', 'Floor board', 'Roof', 'Queen excluder', 'Entrance block']],
  ['Clothing', 'piece', ['Veil', 'Jacket', 'Pair of gloves', 'Suit', 'Pair of boots']],
  ['Tools', 'piece', ['Hive tool', 'Smoker', 'Bee brush', 'Uncapping fork', 'Queen clip', 'Frame grip']],
  ['Feed', 'kg', ['Syrup', 'Fondant', 'Pollen patty', 'Sugar block']],
  ['Honey room', 'piece', ['Jar 250 g', 'Jar 500 g', 'Strainer', 'Settling tank', 'Label roll', 'Extractor part']],
];
const KINDS = [
  'Cedar',
  'Pine',
  'Poplar',
  'Light',
  'Sturdy',
  'Summer',
  'Winter',
  'Meadow',
  'Heath',
  'Orchard',
  'Valley',
];
const SIZES = ['small', 'medium', 'large', 'long', 'short', 'wide', 'narrow', 'double', 'half', 'spare'];
const COUNT = 5000;

/** Five thousand goods for beekeepers, the same in every run. */
export function makeGoods(): Good[] {
  const random = seededRandom(5000);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  return Array.from({ length: COUNT }, (_, i): Good => {
    const [category, unit, things] = pick(CATEGORIES);
    const thing = pick(things);
    const name = `${pick(KINDS)} ${thing.toLowerCase()}, ${pick(SIZES)}`;
    const day = new Date(Date.UTC(2019, 0, 1) + Math.floor(random() * 2800) * 86_400_000);
    return {
      id: `G-${String(i + 1).padStart(4, '0')}`,
      name,
      category,
      unit,
      price: Math.round(150 + random() * 20_000) / 100,
      inStock: random() < 0.1 ? 0 : Math.floor(random() * 400),
      since: day.toISOString().slice(0, 10),
      words: `${thing} for ${pick(['small', 'larger', 'new', 'moving', 'resting'])} colonies. Kept ${pick(['dry', 'cool', 'in the dark', 'upright'])}.`,
    };
  });
}

/** A catalogue with search, pages, details and pictures. */
export function goodsRoutes(base: () => string): Router {
  const goods = makeGoods();
  const byId = new Map(goods.map((g) => [g.id, g]));
  const shown = (g: Good): object => ({ ...g, picture: `${base()}/goods/${g.id}/picture.svg` });
  const routes = Router();
  routes.get('/goods', (req, res) => {
    const words = String(req.query['search'] ?? '')
      .toLowerCase()
      .split(/\s+/)
      .filter(Boolean);
    const category = String(req.query['category'] ?? '');
    const page = Math.max(1, Math.floor(Number(req.query['page'] ?? 1)) || 1);
    const size = Math.min(200, Math.max(1, Math.floor(Number(req.query['per_page'] ?? 20)) || 20));
    const found = goods.filter((g) => {
      const text = `${g.id} ${g.name} ${g.category}`.toLowerCase();
      return (!category || g.category === category) && words.every((w) => text.includes(w));
    });
    const items = found.slice((page - 1) * size, page * size).map(shown);
    if (page * size < found.length) {
      const next = new URLSearchParams(req.query as Record<string, string>);
      next.set('page', String(page + 1));
      res.set('link', `</goods?${next}>; rel="next"`);
    }
    res.json({ total: found.length, page, items });
  });
  routes.get('/goods/:id', (req, res) => {
    const good = byId.get(req.params.id);
    if (!good) return void res.status(404).json(problem(404, `There is no good ${req.params.id.slice(0, 40)}.`));
    return void res.json({ ...shown(good), details: { weight: 0.2 + (good.price % 7), origin: 'Heatherfield' } });
  });
  routes.get('/goods/:id/picture.svg', (req, res) => {
    const good = byId.get(req.params.id);
    if (!good) return void res.status(404).end();
    const hue = (Number(good.id.slice(2)) * 47) % 360;
    return void res
      .type('image/svg+xml')
      .set('cache-control', 'max-age=3600')
      .send(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 120"><rect width="120" height="120" fill="hsl(${hue} 45% 88%)"/><path d="M60 22 93 41v38L60 98 27 79V41Z" fill="hsl(${hue} 50% 55%)"/><path d="M60 40 77 50v20L60 80 43 70V50Z" fill="hsl(${hue} 45% 80%)"/></svg>`,
      );
  });
  return routes;
}
