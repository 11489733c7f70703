import { execFileSync } from 'node:child_process';
import { statfs, writeFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { accepted, allRecords, change, push, release, tempFolder, Victim, type Findings } from './server.ts';

/** A small disk that runs full while phones send, is emptied and fills again; the server is killed in between. */
export async function fullDisk(): Promise<Findings> {
  const folder = await tempFolder('disk');
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=6m', 'tmpfs', folder.path], { stdio: 'pipe' });
  } catch (e) {
    await folder.remove();
    return {
      figures: { skipped: `no small disk can be made here: ${String((e as Error).message).split('\n')[0]}` },
      wrong: [],
    };
  }
  const wrong: string[] = [];
  const acknowledged = new Map<string, string>();
  let refused = 0;
  const victim = new Victim(join(folder.path, 'data'));
  try {
    await victim.start();
    await release(victim.url, 'small');
    const ballast = join(folder.path, 'ballast');
    for (let round = 0; round < 6; round++) {
      const free = await statfs(folder.path);
      const room = Number(free.bavail) * Number(free.bsize);
      // All but a little is taken by somebody else.
      await writeFile(ballast, Buffer.alloc(Math.max(0, room - 40_000)));
      for (let i = 0; i < 30; i++) {
        const words = `${round}-${i} ${'x'.repeat(3000)}`;
        const c = change(`h${i}`, { f_name000: words });
        const answer = await push(victim.url, 'small', [c]);
        if (accepted(answer).includes(c.id)) acknowledged.set(c.record, words);
        else {
          refused++;
          if (answer.status !== 507)
            wrong.push(`a full disk is answered with ${answer.status}: ${answer.text.slice(0, 100)}`);
        }
      }
      if (round % 2) {
        await victim.kill();
        await rm(ballast, { force: true });
        await victim.start();
      }
      await rm(ballast, { force: true });
      const there = await allRecords(victim.url, 'small');
      for (const [id, words] of acknowledged)
        if (there.get(id)?.cells['f_name000'] !== words)
          wrong.push(`round ${round}: ${id} is not what was acknowledged`);
    }
    if (refused === 0) wrong.push('the disk never ran full');
  } finally {
    await victim.kill();
    execFileSync('umount', [folder.path]);
    await folder.remove();
  }
  return { figures: { acknowledged: acknowledged.size, 'refused for want of room': refused }, wrong };
}
