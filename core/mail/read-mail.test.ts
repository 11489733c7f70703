import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compose } from '../formats/eml.ts';
import { readMail, threadOf, type ReadMail } from './read-mail.ts';
import { newWords } from './reply.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text.replace(/\n/g, '\r\n'));
const latin1 = (text: string): Uint8Array => Uint8Array.from(text.replace(/\n/g, '\r\n'), (c) => c.charCodeAt(0));
const head =
  'From: Ada <ada@post.example>\nTo: bees@mellow-kite.example\nMessage-ID: <one@post.example>\nSubject: A swarm\n';

describe('a mail', () => {
  it('is read in the character set it came in, also in its headers', async () => {
    const mail = await readMail(
      latin1(
        'From: =?ISO-8859-1?Q?Andr=E9?= <Andre@Post.example>\nSubject: =?iso-8859-15?Q?Schwarm_f=FCr_5_=A4?=\nMessage-ID: <a@b>\nContent-Type: text/plain; charset=iso-8859-1\n\nGr\xfc\xdfe aus K\xf6ln\n',
      ),
    );
    expect(mail).toMatchObject({
      from: { name: 'André', address: 'andre@post.example' },
      subject: 'Schwarm für 5 €',
      words: 'Grüße aus Köln',
      by: 'person',
    });
    const japanese = await readMail(bytes(`${head}Content-Type: text/plain; charset=iso-2022-jp\n\n\x1b$BK*\x1b(B\n`));
    expect(japanese.words).toBe('蜂');
  });

  it('in HTML alone is words, without what is not seen', async () => {
    const mail = await readMail(
      bytes(
        `${head}Content-Type: text/html; charset=utf-8\n\n<style>p{color:red}</style><p>Hello <b>there</b></p><script>alert(1)</script><ul><li>one</li><li>two</li></ul><img src="x" alt="track">\n`,
      ),
    );
    expect(mail.words).toBe('Hello there\n\n * one\n * two');
  });

  it('says whether a person, a machine or a mail server has written it', async () => {
    const by = async (headers: string): Promise<ReadMail['by']> =>
      (await readMail(bytes(`${headers}${head}\nAway.\n`))).by;
    expect(await by('')).toBe('person');
    expect(await by('Auto-Submitted: no\n')).toBe('person');
    expect(await by('Auto-Submitted: auto-replied\n')).toBe('machine');
    expect(await by('Precedence: bulk\n')).toBe('machine');
    expect(await by('List-Id: <l.example>\n')).toBe('machine');
    expect(await by('Return-Path: <>\n')).toBe('mail server');
    const bounce = await readMail(
      bytes(
        'From: Mail <mailer-daemon@post.example>\nMessage-ID: <x@y>\nSubject: Undelivered\nContent-Type: multipart/report; report-type=delivery-status; boundary=b\n\n--b\nContent-Type: text/plain\n\nIt could not be delivered.\n--b\nContent-Type: message/delivery-status\n\nAction: failed\n\n--b\nContent-Type: text/rfc822-headers\n\nMessage-ID: <m_123@mellow-kite.example>\n--b--\n',
      ),
    );
    expect(bounce).toMatchObject({ by: 'mail server', returned: ['m_123@mellow-kite.example'], files: [] });
    // What we send by ourselves says so.
    const own = compose({ from: { name: 'B', address: 'b@c.example' }, to: ['a@b.example'], subject: 's', body: 'x', date: new Date(0), id: 'm', automatic: true }); // prettier-ignore
    expect((await readMail(new TextEncoder().encode(own))).by).toBe('machine');
  });

  it('that was composed is read as it was, files and all (property)', async () => {
    const text = fc.string({ unit: 'grapheme', maxLength: 200 }).map((s) => s.replace(/\r/g, '').trim());
    await fc.assert(
      fc.asyncProperty(text, text, fc.uint8Array({ maxLength: 500 }), async (subject, body, content) => {
        fc.pre(newWords(body) === body && /^[^\p{Cc}\p{Cs}]*$/u.test(subject));
        const raw = compose({
          from: { name: 'Ada', address: 'ada@post.example' },
          to: ['bees@mellow-kite.example'],
          subject,
          body,
          date: new Date(0),
          id: 'm_1',
          files: [{ name: 'plan.bin', type: 'application/x-plan', data: Buffer.from(content).toString('base64') }],
        });
        const mail = await readMail(new TextEncoder().encode(raw));
        expect(mail.subject).toBe(subject.replace(/\s+/g, ' ').trim());
        expect(mail.words).toBe(body);
        expect(mail.files).toEqual([{ name: 'plan.bin', type: 'application/x-plan', content }]);
      }),
    );
  });
});

describe('what is new in an answer', () => {
  it.each([
    ['Yes.\n\nOn Mon, 30 Nov 2026 at 10:00, Bees <b@c.example> wrote:\n> Is it there?\n> Tell us.', 'Yes.'],
    ['Ja.\n\nAm Mo., 30. Nov. 2026 um 10:00 Uhr schrieb Bees <b@c.example>:\n> Noch da?', 'Ja.'],
    ['Oui.\n\nLe lun. 30 nov. 2026 à 10:00, Bees <b@c.example> a écrit :\n> Encore là ?', 'Oui.'],
    ['Yes.\n\nOn Mon, 30 Nov 2026 at 10:00, The Bees of Heatherfield\n<b@c.example> wrote:\n> There?', 'Yes.'],
    ['Yes.\n\n-----Original Message-----\nFrom: Bees\nSent: Monday\nTo: Ada\n\nIs it there?', 'Yes.'],
    ['Yes.\n\nFrom: Bees <b@c.example>\nSent: Monday\nSubject: Swarm\n\nIs it there?', 'Yes.'],
    ['Thanks\n-- \nAda Holm\nPost Lane 3', 'Thanks'],
    ['> Is it there?\nYes.\n> How large?\nLike a melon.', 'Yes.\nLike a melon.'],
    ['On Monday I wrote: a letter.\nStill here.', 'On Monday I wrote: a letter.\nStill here.'],
    ['> all of it was quoted', '> all of it was quoted'],
  ])('is told from the rest: %j', (text, wanted) => {
    expect(newWords(text)).toBe(wanted);
  });
});

describe('the thread of a mail', () => {
  const mail = (more: Partial<ReadMail>) => ({ id: 'new@x', refers: [], subject: 'A swarm', from: { name: '', address: 'ada@x' }, ...more }); // prettier-ignore
  const known = (key: string): string | undefined =>
    ({ 'our@x': 'first@x', 'mark m1': 'marked@x', 'pair ada@x a swarm': 'paired@x' })[key];
  it('is that of what it refers to, of its mark, of the same subject, or its own', () => {
    expect(threadOf(mail({ refers: ['other@x', 'our@x'] }), known, null)).toBe('first@x');
    expect(threadOf(mail({ refers: ['our@x'] }), known, 'm1')).toBe('marked@x');
    expect(threadOf(mail({ subject: 'Re: A swarm' }), known, null)).toBe('paired@x');
    expect(threadOf(mail({ subject: 'A swarm' }), known, null)).toBe('new@x');
    expect(threadOf(mail({ refers: ['root@x', 'later@x'] }), known, null)).toBe('root@x');
  });
});
