import { Router } from 'express';
import { seededRandom } from '../../core/document/ids.ts';
import { problem } from './problem.ts';

/** Days of the outlook. */
const DAYS = 7;
const seedOf = (text: string): number => [...text].reduce((n, c) => (Math.imul(n, 31) + c.charCodeAt(0)) >>> 0, 7);

/**
 * An outlook of the weather for a place, worked out from the place and the day: the same for whoever asks on the same day,
 * warmer in summer, and never a real forecast.
 */
export function outlookRoutes(): Router {
  const routes = Router();
  routes.get('/outlook', (req, res) => {
    const place = String(req.query['place'] ?? '').trim();
    if (req.get('x-api-key') !== 'bees-like-sun')
      return void res
        .status(401)
        .json(problem(401, 'The outlook wants the key “bees-like-sun” in the header X-Api-Key.'));
    if (!place) return void res.status(400).json(problem(400, 'Which place? Add ?place=.'));
    const today = Math.floor(Date.now() / 86_400_000);
    const days = Array.from({ length: DAYS }, (_, i) => {
      const random = seededRandom(seedOf(place.toLowerCase()) + today + i);
      const date = new Date((today + i) * 86_400_000);
      const season = Math.sin(((date.getUTCMonth() - 3) / 12) * 2 * Math.PI);
      const warmest = Math.round((11 + 10 * season + 6 * (random() - 0.5)) * 10) / 10;
      const rain = random() < 0.35 ? Math.round(random() * 120) / 10 : 0;
      return {
        date: date.toISOString().slice(0, 10),
        warmest,
        coldest: Math.round((warmest - 4 - 5 * random()) * 10) / 10,
        rain,
        wind: Math.round(random() * 40),
        flying: warmest >= 12 && rain < 1,
      };
    });
    return void res.json({ place, madeUp: true, updated: new Date().toISOString(), days });
  });
  return routes;
}
