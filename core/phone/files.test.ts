import { expect, it } from 'vitest';
import type { RecordState } from '../records/change.ts';
import { Files } from './files.ts';

it('lets go of files that nothing holds, and of no other', async () => {
  const kept = new Map<string, Blob>();
  const store = {
    file: async (hash: string) => kept.get(hash) ?? null,
    keepFile: async (hash: string, content: Blob) => void kept.set(hash, content),
    forgetFiles: async (used: ReadonlySet<string>) => {
      for (const hash of kept.keys()) if (!used.has(hash)) kept.delete(hash);
    },
  };
  const files = new Files(store, async () => null);
  const keep = (words: string): Promise<string> =>
    files.keep(new Blob([words], { type: 'text/plain' }), `${words}.txt`);
  const [inRecord, removed, inVariable, inRun, loose] = await Promise.all(['a', 'b', 'c', 'd', 'e'].map(keep));
  const states = [
    { table: 't', id: 'r', cells: { f: inRecord! }, stamp: '1', was: { f: [removed!, '1'] } },
  ] as unknown as RecordState[];
  await files.tidy(states, { v_drawing: inVariable }, [{ state: { results: { v_photo: { list: [inRun!] } } } }]);
  expect(kept.size).toBe(4);
  for (const address of [inRecord, removed, inVariable, inRun]) expect(await files.read(address!)).not.toBeNull();
  expect(await files.read(loose!)).toBeNull();
});
