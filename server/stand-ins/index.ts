import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { authorizeRoutes } from './authorize.ts';
import { Claim, claimRoutes } from './claims.ts';
import { faults } from './faults.ts';
import { goodsRoutes } from './goods.ts';
import { KeptJson } from './kept-json.ts';
import { Members, memberRoutes } from './members.ts';
import { odataRoutes } from './odata.ts';
import { openApi } from './openapi.ts';
import { Order, orderRoutes } from './orders.ts';
import { outlookRoutes } from './outlook.ts';
import { wordsRoutes } from './words.ts';
import { problem } from './problem.ts';

export interface StandIns {
  url: string;
  close(): Promise<void>;
}

/**
 * Services that stand in for other people’s, on a port of their own on this machine: a supplier of bee goods with members
 * and orders, an outlook of the weather for apiaries, and the same orders as OData. They work out what they answer, keep
 * what they are told in `folder`, and say that they are stand-ins.
 */
export async function startStandIns(folder: string, port = 0): Promise<StandIns> {
  const app = express();
  app.disable('x-powered-by');
  app.use((_req, res, next) => {
    // Anybody may ask from a page, as with many public services.
    res.set({ 'x-stand-in': 'Mellow Kite', 'access-control-allow-origin': '*' });
    next();
  });
  app.options('/{*rest}', (_req, res) => {
    res
      .set({ 'access-control-allow-headers': '*, authorization', 'access-control-allow-methods': '*' })
      .status(204)
      .end();
  });
  app.use(faults);
  app.use(express.json({ limit: '200kb' }));
  const members = await Members.open(folder);
  const orders = await KeptJson.open(folder, 'orders', Order.array());
  const claims = await KeptJson.open(folder, 'claims', Claim.array());
  let url = '';
  app.get('/openapi.json', (_req, res) => void res.json(openApi(url)));
  app.use(outlookRoutes());
  app.use(goodsRoutes(() => url));
  app.use(authorizeRoutes(members, () => url));
  app.use(memberRoutes(members));
  app.use(orderRoutes(members, orders));
  app.use(wordsRoutes());
  app.use(claimRoutes(claims, folder, () => url));
  app.use(
    '/odata',
    odataRoutes(orders, () => `${url}/odata`),
  );
  app.use((_req, res) => void res.status(404).json(problem(404, 'There is nothing at this address.')));
  const server = createServer(app);
  const listen = (at: number): Promise<void> =>
    new Promise((resolve, reject) => {
      server.once('error', reject);
      server.listen(at, '127.0.0.1', resolve);
    });
  // Another server of this machine may have them already at their usual port.
  await listen(port).catch(() => listen(0));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return {
    url,
    close: async () => {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
