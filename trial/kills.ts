import { accepted, allRecords, change, push, release, onVictim, type Findings } from './server.ts';

const ROUNDS = 12;

/** kill -9 under load, and a start on what is left: what was acknowledged is there. */
export const kills = (): Promise<Findings> =>
  onVictim('kills', async (victim, wrong) => {
    const acknowledged = new Set<string>();
    let rounds = 0;
    await release(victim.url, 'load');
    for (; rounds < ROUNDS; rounds++) {
      let down = false;
      const clients = Array.from({ length: 8 }, async (_, c) => {
        for (let i = 0; !down; i++) {
          const changes = Array.from({ length: 5 }, (_, k) => change(`r${rounds}-${c}-${i}-${k}`));
          try {
            const answer = await push(victim.url, 'load', changes);
            if (answer.status === 429) await new Promise((r) => setTimeout(r, 20));
            const ids = new Set(accepted(answer));
            for (const ch of changes) if (ids.has(ch.id)) acknowledged.add(ch.record);
          } catch {
            down = true;
          }
        }
      });
      await new Promise((r) => setTimeout(r, 300 + 60 * rounds));
      await victim.kill();
      down = true;
      await Promise.all(clients);
      await victim.start();
      const there = await allRecords(victim.url, 'load');
      const lost = [...acknowledged].filter((id) => !there.has(id));
      if (lost.length)
        wrong.push(`round ${rounds}: ${lost.length} acknowledged changes are lost, ${lost[0]} among them`);
    }
    return { kills: rounds, acknowledged: acknowledged.size };
  });
