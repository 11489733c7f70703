import { connect, type Socket } from 'node:net';
import { accepted, call, change, KEY, onVictim, push, release, type Findings } from './server.ts';

/** Strangers who send what the server has to hold: mails to an outbox, requests without an end, halves of files. */
export const hoards = (): Promise<Findings> =>
  onVictim('hoards', async (victim, wrong) => {
    await release(victim.url, 'bees');
    await push(victim.url, 'bees', [change('first')]);
    const before = await victim.memory();
    let peak = before;
    const look = async (): Promise<void> => {
      peak = Math.max(peak, await victim.memory());
    };
    /** The app goes on for everybody else. */
    const goesOn = async (during: string): Promise<void> => {
      const started = performance.now();
      if (accepted(await push(victim.url, 'bees', [change(during.replaceAll(' ', '-'))])).length !== 1)
        wrong.push(`no change was taken during ${during}`);
      const ms = performance.now() - started;
      if (ms > 3000) wrong.push(`a change took ${Math.round(ms)} ms during ${during}`);
      await look();
    };

    // Mails with files, whoever asks.
    const data = Buffer.alloc(4 * 2 ** 20, 7).toString('base64');
    const mails = { taken: 0, refused: 0 };
    for (let i = 0; i < 100; i++) {
      const answer = await call(victim.url, '/api/apps/bees/mail', {
        json: {
          id: `hoard-${String(i).padStart(4, '0')}`,
          to: ['a@b.example'],
          subject: 'Photos',
          body: 'x',
          files: [{ name: 'a.bin', type: 'application/octet-stream', data }],
        },
      });
      if (answer.status === 200) mails.taken++;
      else mails.refused++;
      if (answer.status >= 500 && answer.status !== 507) wrong.push(`a mail was answered ${answer.status}`);
      if (i % 10 === 0) await goesOn('mails');
    }
    if (mails.refused === 0) wrong.push('an outbox has no bound');
    const outbox = await call(victim.url, '/api/apps/bees/outbox', { key: KEY });
    if (outbox.status !== 200) wrong.push(`the outbox answered ${outbox.status}`);
    await look();

    // Pushes whose last byte never comes, from addresses of their own.
    const { port, host } = new URL(victim.url);
    const half = Buffer.from(`{"changes":[{"x":"${'x'.repeat(20_000_000)}`);
    const sockets: Socket[] = [];
    for (let i = 0; i < 60; i++) {
      const socket = connect(Number(port), '127.0.0.1');
      socket.on('error', () => undefined);
      socket.write(
        `POST /api/apps/bees/changes HTTP/1.1\r\nHost: ${host}\r\nContent-Type: application/json\r\n` +
          `X-Forwarded-For: 10.9.0.${i}\r\nContent-Length: ${half.length + 10}\r\n\r\n`,
      );
      socket.write(half);
      sockets.push(socket);
    }
    await new Promise((r) => setTimeout(r, 5000));
    await look();
    const held = peak - before;
    if (held > 900) wrong.push(`mails and requests without an end took ${Math.round(held)} MB`);
    // Those that stopped are ended; then there is room again.
    await new Promise((r) => setTimeout(r, 22_000));
    await goesOn('requests without an end');
    for (const s of sockets) s.destroy();

    // A stranger's halves of files keep nobody's own file out.
    const piece = Buffer.alloc(10, 1);
    const statuses = new Map<number, number>();
    for (let i = 0; i < 250; i++) {
      const hash = Buffer.alloc(32, `h${i}`).toString('base64url');
      const answer = await call(victim.url, `/api/apps/bees/files/${hash}?offset=0&size=1000`, {
        method: 'PATCH',
        headers: { 'content-type': 'application/octet-stream', 'x-forwarded-for': '10.66.0.1' },
        body: piece,
      });
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
    }
    const own = await call(
      victim.url,
      `/api/apps/bees/files/${Buffer.alloc(32, 'own').toString('base64url')}?offset=0&size=1000`,
      { method: 'PATCH', headers: { 'content-type': 'application/octet-stream' }, body: piece },
    );
    if (own.status !== 200) wrong.push(`an own file was answered ${own.status} beside a stranger's halves`);
    await goesOn('halves of files');
    return {
      'mails of 5.6 MB taken': mails.taken,
      'mails refused': mails.refused,
      'requests without an end': 60,
      'halves of files taken from one address': statuses.get(200) ?? 0,
      'MB before': Math.round(before),
      'MB at most': Math.round(peak),
    };
  });
