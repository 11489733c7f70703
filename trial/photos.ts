import { hiveApp } from '../core/records/fixture.ts';
import { accepted, allRecords, change, push, release, onVictim, type Findings } from './server.ts';

const PHOTOS = 1400;

/** As many photos as once made an app unreachable for good: the app starts again and gives all of them. */
export const photos = (): Promise<Findings> =>
  onVictim('photos', async (victim, wrong) => {
    const app = hiveApp({ hives: [{ id: 'f_photo000', name: 'Photo', type: 'file' }] });
    await release(victim.url, 'photos', { ...app, id: 'a_photos000' });
    const letters = Math.round((380_000 * 4) / 3);
    const photo = (i: number): string => `data:image/jpeg;base64,${String(i).padStart(8, 'A')}${'A'.repeat(letters)}`;
    let taken = 0;
    for (let i = 0; i < PHOTOS; i += 4) {
      const part = Array.from({ length: 4 }, (_, k) => change(`p${i + k}`, { f_photo000: photo(i + k) }));
      taken += accepted(await push(victim.url, 'photos', part)).length;
    }
    if (taken < PHOTOS) wrong.push(`${PHOTOS - taken} photos were not taken`);
    const before = await victim.memory();
    await victim.kill();
    const started = performance.now();
    await victim.start();
    const there = await allRecords(victim.url, 'photos');
    const seconds = (performance.now() - started) / 1000;
    if (there.size !== PHOTOS) wrong.push(`${there.size} of ${PHOTOS} photos are there after a restart`);
    if (there.get('p77')?.cells['f_photo000'] !== photo(77)) wrong.push('a photo is not what it was');
    return {
      photos: PHOTOS,
      'MB in memory': Math.round(before),
      'seconds from the start to the last page': seconds.toFixed(1),
    };
  });
