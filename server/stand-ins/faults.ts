import type { RequestHandler } from 'express';
import { problem } from './problem.ts';

/**
 * Faults on request, by `?fault=` or the header `X-Fault`: `slow` waits ten seconds, `401`, `429` and `500` answer with
 * that, `broken` answers with half a JSON, `cut` ends the connection in the middle.
 */
export const faults: RequestHandler = (req, res, next) => {
  const asked = req.query['fault'] ?? req.get('x-fault');
  switch (asked) {
    case 'slow':
      return void setTimeout(next, 10_000);
    case '401':
      return void res.status(401).json(problem(401, 'The token has expired.'));
    case '429':
      return void res.status(429).set('retry-after', '30').json(problem(429, 'Too many requests.'));
    case '500':
      return void res.status(500).json(problem(500, 'Something broke.'));
    case 'broken':
      return void res.type('json').send('{"items": [{"id": 1, ');
    case 'cut':
      res.writeHead(200, { 'content-type': 'application/json', 'content-length': '1000' });
      res.write('{"items": [');
      return void setTimeout(() => res.destroy(), 50);
    default:
      return next();
  }
};
