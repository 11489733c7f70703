/** The reference of the host's bench: an HTTP server that appends bodies to a file, one flush for all that have arrived. */
import { open } from 'node:fs/promises';
import { createServer } from 'node:http';

const file = await open(process.argv[2]!, 'a');
let waiting: { body: string; done(): void }[] = [];
let flushing = false;

async function flush(): Promise<void> {
  if (flushing) return;
  flushing = true;
  while (waiting.length) {
    const group = waiting;
    waiting = [];
    await file.appendFile(group.map((w) => `${w.body}\n`).join(''));
    await file.datasync();
    for (const w of group) w.done();
  }
  flushing = false;
}

const server = createServer((req, res) => {
  let body = '';
  req.on('data', (d: Buffer) => (body += String(d)));
  req.on('end', () => {
    waiting.push({ body, done: () => res.end('{}') });
    void flush();
  });
});
server.listen(0, '127.0.0.1', () => {
  console.log(`http://127.0.0.1:${(server.address() as { port: number }).port}`);
});
