import { connect, type Socket } from 'node:net';
import { accepted, change, push, release, onVictim, type Findings } from './server.ts';

/** Phones that listen and do not read, while others send large changes. */
export const streams = (): Promise<Findings> =>
  onVictim('streams', async (victim, wrong) => {
    await release(victim.url, 'bees');
    const { port, host } = new URL(victim.url);
    const sockets: Socket[] = [];
    for (let i = 0; i < 40; i++) {
      const socket = connect(Number(port), '127.0.0.1');
      socket.on('error', () => undefined);
      socket.write(`GET /api/apps/bees/live HTTP/1.1\r\nHost: ${host}\r\n\r\n`);
      socket.pause();
      sockets.push(socket);
    }
    await push(victim.url, 'bees', [change('one')]);
    const before = await victim.memory();
    let peak = before;
    let sent = 0;
    const words = 'x'.repeat(200_000);
    for (let i = 0; i < 400; i++) {
      const answer = await push(victim.url, 'bees', [change('one', { f_name000: `${i} ${words}` })]);
      sent += accepted(answer).length;
      if (i % 20 === 0) peak = Math.max(peak, await victim.memory());
    }
    peak = Math.max(peak, await victim.memory());
    if (sent < 400) wrong.push(`${400 - sent} changes were not taken`);
    if (peak - before > 700) wrong.push(`40 streams that do not read took ${Math.round(peak - before)} MB`);
    for (const s of sockets) s.destroy();
    return {
      'streams that do not read': 40,
      'MB sent past them': 80,
      'MB before': Math.round(before),
      'MB at most': Math.round(peak),
    };
  });
