import { createHash } from 'node:crypto';
import { keptAddress, PIECE_BYTES } from '../core/fields/kept-file.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { accepted, allRecords, call, chance, change, push, release, onVictim, type Findings } from './server.ts';

const PHOTOS = 1400;
const BYTES = 380_000;
/** So many come with their content in the record, as older phones send them. */
const INSIDE = 200;

/** As many photos as once made an app unreachable for good: the app starts again and gives all of them, whole. */
export const photos = (): Promise<Findings> =>
  onVictim('photos', async (victim, wrong) => {
    const app = hiveApp({ hives: [{ id: 'f_photo000', name: 'Photo', type: 'file' }] });
    await release(victim.url, 'photos', { ...app, id: 'a_photos000' });
    const random = chance(5);
    const photo = (i: number): { hash: string; bytes: Uint8Array<ArrayBuffer>; address: string } => {
      const bytes = new Uint8Array(BYTES);
      new DataView(bytes.buffer).setUint32(0, i);
      const hash = createHash('sha256').update(bytes).digest('base64url');
      return { hash, bytes, address: keptAddress({ hash, type: 'image/jpeg', size: BYTES, name: `p${i}.jpg` }) };
    };
    const path = (hash: string): string => `/api/apps/photos/files/${hash}`;
    const arrived = async (hash: string): Promise<number> =>
      Number((await call(victim.url, `${path(hash)}/arrived`)).body['offset']);
    const piece = (hash: string, offset: number, body: Uint8Array<ArrayBuffer>) =>
      call(victim.url, `${path(hash)}?offset=${offset}&size=${BYTES}`, {
        method: 'PATCH',
        body,
        headers: { 'content-type': 'application/octet-stream' },
      });
    let resumed = 0;
    const send = async (i: number): Promise<void> => {
      const { hash, bytes } = photo(i);
      let at = 0;
      while (at < BYTES) {
        const { status, body } = await piece(hash, at, bytes.slice(at, at + PIECE_BYTES));
        if (status !== 200) return void wrong.push(`photo ${i} is answered with ${status}`);
        at = Number(body['offset']);
        // Now and then the power fails in the middle of one.
        if (at < BYTES && random() < 0.004) {
          await victim.kill();
          await victim.start();
          at = await arrived(hash);
          if (at > 0) resumed++;
        }
      }
    };
    let taken = 0;
    for (let i = 0; i < PHOTOS; i += 4) {
      const part = [0, 1, 2, 3].map((k) => {
        const { address, bytes } = photo(i + k);
        const inside = `data:image/jpeg;base64,${Buffer.from(bytes).toString('base64')}`;
        return change(`p${i + k}`, { f_photo000: i < INSIDE ? inside : address });
      });
      const wanted = (await push(victim.url, 'photos', part)).body['wanted'] as string[] | undefined;
      if (i < INSIDE) taken += 4;
      else if (wanted?.length !== 4) wrong.push(`${wanted?.length ?? 0} of 4 photos are asked for`);
      else {
        for (let k = 0; k < 4; k++) await send(i + k);
        taken += accepted(await push(victim.url, 'photos', part)).length;
      }
    }
    if (taken < PHOTOS) wrong.push(`${PHOTOS - taken} photos were not taken`);
    const before = await victim.memory();
    await victim.kill();
    const started = performance.now();
    await victim.start();
    const there = await allRecords(victim.url, 'photos');
    const seconds = (performance.now() - started) / 1000;
    if (there.size !== PHOTOS) wrong.push(`${there.size} of ${PHOTOS} photos are there after a restart`);
    for (let i = INSIDE; i < PHOTOS; i += 97) {
      const { hash, bytes, address } = photo(i);
      if (there.get(`p${i}`)?.cells['f_photo000'] !== address) wrong.push(`photo ${i} is not named as it was`);
      const content = await fetch(victim.url + path(hash)).then((r) => r.arrayBuffer());
      if (!Buffer.from(content).equals(bytes)) wrong.push(`photo ${i} is not what it was`);
    }
    return {
      photos: PHOTOS,
      'gone on with after the power failed': resumed,
      'MB in memory': Math.round(before),
      'seconds from the start to the last page': seconds.toFixed(1),
    };
  });
