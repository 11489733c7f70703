import { Device } from '../core/host/device.ts';
import { NeverTakenError, OfflineError, type HostLink } from '../core/host/link.ts';
import type { CatchUp, Receipt } from '../core/host/protocol.ts';
import { Replica } from '../core/host/replica.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { Records } from '../core/records/store.ts';
import { allRecords, call, release, onVictim, type Findings } from './server.ts';

/** Phones that hold what the host will never take, with other things behind it. */
export const phones = (): Promise<Findings> =>
  onVictim('phones', async (victim, wrong) => {
    await release(victim.url, 'bees');
    let told = 0;
    for (let p = 0; p < 5; p++) {
      const link: HostLink = {
        async push(changes) {
          const a = await call(victim.url, '/api/apps/bees/changes', { json: { changes } });
          if ([400, 413, 415, 422].includes(a.status)) throw new NeverTakenError(String(a.body['error']));
          if (a.status !== 200) throw new OfflineError(a.text);
          return a.body as unknown as Receipt;
        },
        pull: async ({ since, from = 0 }) =>
          (await call(victim.url, `/api/apps/bees/changes?since=${since}&from=${from}`)).body as unknown as CatchUp,
      };
      const replica = new Replica(new Records(hiveApp()));
      const device = new Device({ id: `trial${p}`, replica, store: { save: async () => undefined }, link });
      device.onRefused = (list) => (told += list.length);
      const set = (record: string, cells: Record<string, string>) =>
        device.write([{ do: 'set', table: T.hives, record: `p${p}${record}`, cells }]);
      await set('before', { [F.name]: 'before' });
      // Longer than any cell, a name that no record has, more letters than a request: each would once have stopped all.
      await set('long', { [F.name]: 'x'.repeat(1_500_000) });
      await set('bad name ✗', { [F.name]: 'bad' });
      await set('huge', { [F.name]: 'x'.repeat(30_000_000) });
      await set('behind', { [F.name]: 'behind' });
      await device.sync().catch((e: Error) => wrong.push(`phone ${p}: ${e.message}`));
      if (device.waiting) wrong.push(`phone ${p}: ${device.waiting} changes are stuck`);
    }
    const there = await allRecords(victim.url, 'bees');
    for (let p = 0; p < 5; p++)
      for (const name of ['before', 'behind'])
        if (!there.has(`p${p}${name}`)) wrong.push(`phone ${p}: “${name}” did not come through`);
    if (told !== 15) wrong.push(`people were told of ${told} of 15 changes`);
    return { phones: 5, 'set aside and told': told };
  });
