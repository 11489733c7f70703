import { createHash, randomBytes } from 'node:crypto';
import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { PIECE_BYTES } from '../core/fields/kept-file.ts';
import { call, onVictim, release, type Findings } from './server.ts';

const MB = 2 ** 20;
const QUOTA = 8 * MB;

/** Bytes of all files below a folder. */
async function bytesIn(folder: string): Promise<number> {
  const files = await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => []);
  const sizes = await Promise.all(
    files
      .filter((f) => f.isFile())
      .map((f) =>
        stat(join(f.parentPath, f.name)).then(
          (s) => s.size,
          () => 0,
        ),
      ),
  );
  return sizes.reduce((a, b) => a + b, 0);
}

/** Files from many phones at once that together are more than an app may keep; the same file from several; grown ones. */
export const quotas = (): Promise<Findings> =>
  onVictim(
    'quotas',
    async (victim, wrong) => {
      await release(victim.url, 'bees');
      const statuses = new Map<number, number>();
      const send = async (content: Buffer, announced = content.length, hash = hashOf(content)): Promise<number> => {
        let status = 200;
        for (let at = 0; at < content.length && status === 200; at += PIECE_BYTES) {
          const answer = await call(victim.url, `/api/apps/bees/files/${hash}?offset=${at}&size=${announced}`, {
            method: 'PATCH',
            headers: { 'content-type': 'application/octet-stream' },
            body: new Uint8Array(content.subarray(at, at + PIECE_BYTES)),
          });
          ({ status } = answer);
        }
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
        return status;
      };
      const hashOf = (b: Buffer): string => createHash('sha256').update(b).digest('base64url');
      // One file from three phones: all of them end with it there.
      const same = randomBytes(MB);
      const three = await Promise.all([send(same), send(same), send(same)]);
      if (three.some((s) => s >= 500)) wrong.push(`the same file from three phones was answered ${three.join(', ')}`);
      // Four times what may be kept.
      const all = await Promise.all(Array.from({ length: 32 }, () => send(randomBytes(MB))));
      if (all.every((s) => s === 200)) wrong.push('files have no bound');
      if (!three.includes(200) || !all.includes(200)) wrong.push('no file was taken');
      if (all.some((s) => s >= 500 && s !== 507)) wrong.push(`a file was answered ${Math.max(...all)}`);
      // Announced small, then grown.
      const grown = await Promise.all(
        Array.from({ length: 8 }, (_, i) => send(randomBytes(MB), 1, hashOf(Buffer.from(`grown ${i}`)))),
      );
      if (grown.some((s) => s === 200)) wrong.push('a file grew beyond what was announced');
      const kept = await bytesIn(victim.data);
      if (kept > QUOTA + MB) wrong.push(`${Math.round(kept / MB)} MB are kept of ${QUOTA / MB}`);
      const answer = await call(victim.url, '/api/apps/bees/app');
      if (answer.status !== 200) wrong.push(`the app is answered ${answer.status}`);
      if (victim.ended) wrong.push('the server ended');
      return {
        'files sent': [...statuses.values()].reduce((a, b) => a + b, 0),
        answers: [...statuses].map(([s, n]) => `${s}: ${n}`).join(', '),
        'MB kept, of 8': (kept / MB).toFixed(1),
      };
    },
    ['--files', String(QUOTA / 2 ** 30)],
  );
