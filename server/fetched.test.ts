import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fileNameOf } from '../core/services/fetched-file.ts';
import { TestServer } from './fixture.ts';

let t: TestServer;
let service: Server;
let at = '';
const asked: { url: string; key: string | undefined }[] = [];
beforeAll(async () => {
  service = createServer((req, res) => {
    asked.push({ url: req.url!, key: req.headers['x-api-key'] as string | undefined });
    if (req.url === '/hives.csv') res.writeHead(200, { 'content-type': 'text/html' }).end('Name,Weight\nClover,9\n');
    else if (req.url === '/closed') res.writeHead(401).end('no');
    else if (req.url === '/large') res.end(Buffer.alloc(21_000_000));
    else res.writeHead(404).end();
  });
  await new Promise<void>((r) => service.listen(0, '127.0.0.1', r));
  const { port } = service.address() as AddressInfo;
  at = `http://127.0.0.1:${port}`;
  t = await TestServer.start({ outside: [`127.0.0.1:${port}`] });
});
afterAll(async () => {
  await t.stop();
  service.closeAllConnections();
  service.close();
});
const fetchFrom = (from: unknown) => t.call('/api/fetched', { json: { from } });

describe('data at an address', () => {
  it('comes as a file of bytes, whatever it says that it is', async () => {
    const answer = await fetchFrom(` ${at}/hives.csv `);
    expect([answer.status, answer.text, answer.headers.get('content-type'), answer.headers.get('x-file-name')]).toEqual(
      [200, 'Name,Weight\nClover,9\n', 'application/octet-stream', 'hives.csv'],
    );
    expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
  });
  it('may be told by a curl line, with its key', async () => {
    const partly = await fetchFrom(`curl -s '${at}/hives.csv' -b a=1 -k`);
    expect(decodeURIComponent(partly.headers.get('x-left-out')!)).toBe(
      'taking any certificate: it must be valid, cookies: an app signs by a key or token',
    );
    expect((await fetchFrom(`curl '${at}/hives.csv' 'odd \ud83d${'🐝'.repeat(600)}'`)).status).toBe(200);
    expect((await fetchFrom(`curl -s '${at}/hives.csv?of=2' -H 'X-Api-Key: k1'`)).status).toBe(422);
    expect(asked.at(-1)).toEqual({ url: '/hives.csv?of=2', key: 'k1' });
  });
  it('that cannot be had is told in words', async () => {
    for (const [from, words] of [
      [`${at}/none`, 'The service has nothing at this address.'],
      [`${at}/closed`, 'The service wants to know who asks'],
      [`${at}/large`, 'larger than is allowed'],
      ['http://127.0.0.1:1/', 'is in a private network'],
      ['http://169.254.169.254/latest', 'is in a private network'],
      ['file:///etc/passwd', 'file:'],
      ['curl -s', 'names no address'],
      [`curl -X DELETE ${at}/hives.csv`, 'with GET or POST, not with DELETE'],
      ["curl 'https://a.example", 'not closed'],
      ['', 'The request is not as it should be'],
      [7, 'The request is not as it should be'],
    ] as const)
      expect(await fetchFrom(from), String(from)).toMatchObject({
        status: 422,
        body: { error: expect.stringContaining(words) as string },
      });
  });
  it('is fetched for pages of this server alone', async () => {
    const headers = { origin: 'https://evil.example', 'sec-fetch-site': 'cross-site' };
    expect((await t.call('/api/fetched', { json: { from: `${at}/hives.csv` }, headers })).status).toBe(403);
  });
});

describe('the name of a fetched file', () => {
  it.each([
    [['content-disposition', 'attachment; filename="Hives 2026.csv"'], 'https://a.example/export', 'Hives 2026.csv'],
    [
      ['content-disposition', "attachment; filename=x; filename*=UTF-8''St%C3%B6cke.csv"],
      'https://a.example/',
      'Stöcke.csv',
    ],
    [['content-disposition', 'attachment; filename="../../etc/passwd"'], 'https://a.example/', '.. .. etc passwd'],
    [['content-type', 'application/json; charset=utf-8'], 'https://a.example/v1/hives/', 'hives.json'],
    [['content-type', 'application/problem+json'], 'https://a.example/', 'a.example.json'],
    [['content-type', 'text/csv'], 'https://a.example/a%2Fb', 'a b.csv'],
    [['x', 'y'], 'https://a.example/list.xlsx?x=1', 'list.xlsx'],
    [['x', 'y'], 'https://a.example/%E0%A4%A', '%E0%A4%A'],
    [['x', 'y'], `https://a.example/${'🐝'.repeat(130)}`, '🐝'.repeat(120)],
  ] as const)('%j at %s is %s', (header, url, name) =>
    expect(fileNameOf({ headers: [[header[0], header[1]]], url })).toBe(name),
  );
});
