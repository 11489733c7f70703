import { sentAddress } from '../document/addresses.ts';

/** Internet messages (RFC 5322) with MIME text (RFC 2045-2047), as the mail step sends them. */
export interface Message {
  from: { name: string; address: string };
  to: string[];
  subject: string;
  body: string;
  date: Date;
  /** The left part of the Message-ID. */
  id: string;
  /** Nobody has written it: a routine sends it by itself, as the start of something or as an answer (RFC 3834, 5). */
  automatic?: boolean | undefined;
  /** The message that it answers, by its id. */
  answers?: string | undefined;
  /** Files with their content in base 64. */
  files?: readonly { name: string; type: string; data: string }[] | undefined;
}

const bytes = (s: string): Uint8Array => new TextEncoder().encode(s);
const base64 = (b: Uint8Array): string => btoa(Array.from(b, (x) => String.fromCharCode(x)).join(''));

/** Words for a header: in one line, without signs that are not seen, and half a letter as the sign for what it is not. */
const inOneLine = (text: string): string =>
  text
    .replace(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ')
    .replace(/\p{Cs}/gu, '\uFFFD')
    .trim();
/** No word is so long that a line cannot be folded beside it (RFC 5322, 2.1.1). */
const canFold = (text: string): boolean => !/[^ ]{61}/.test(text);

/** Encoded words (RFC 2047) for anything that is not plain ASCII in short words, each at most 75 characters long. */
function encoded(text: string): string {
  const clean = inOneLine(text);
  if (/^[\x20-\x7e]*$/.test(clean) && !clean.includes('=?') && canFold(clean)) return clean;
  const words: string[] = [];
  let chunk = '';
  for (const c of clean) {
    if (bytes(chunk + c).length > 42) {
      words.push(chunk);
      chunk = '';
    }
    chunk += c;
  }
  words.push(chunk);
  return words.map((w) => `=?UTF-8?B?${base64(bytes(w))}?=`).join(' ');
}

/** Folds a header at its spaces to lines of at most 78 characters. */
function folded(name: string, value: string): string {
  let line = `${name}:`;
  const lines: string[] = [];
  for (const word of value.split(' ')) {
    if (line.length + word.length + 1 > 78 && line.trim() !== `${name}:`) {
      lines.push(line);
      line = '';
    }
    line += ` ${word}`;
  }
  return [...lines, line].join('\r\n');
}

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const two = (n: number): string => String(n).padStart(2, '0');

function dateHeader(d: Date): string {
  return `${DAYS[d.getUTCDay()]}, ${two(d.getUTCDate())} ${MONTHS[d.getUTCMonth()]} ${d.getUTCFullYear()} ${two(d.getUTCHours())}:${two(d.getUTCMinutes())}:${two(d.getUTCSeconds())} +0000`;
}

/** A display name as RFC 5322 wants it: plain words, a quoted string, or encoded words. */
function phrase(name: string): string {
  const clean = inOneLine(name);
  if (!/^[\x20-\x7e]*$/.test(clean) || !canFold(clean)) return encoded(clean);
  return /^[A-Za-z0-9 ]*$/.test(clean) ? clean : `"${clean.replace(/[\\"]/g, '\\$&')}"`;
}

/**
 * A file's name as a parameter of a header, in parts where one line cannot hold it (RFC 2231 with the characters of
 * RFC 5987).
 */
function nameParameter(name: string): string {
  const signs = [...inOneLine(name)].map((c) =>
    encodeURIComponent(c).replace(/['()*]/g, (s) => `%${s.charCodeAt(0).toString(16).toUpperCase()}`),
  );
  const parts = [''];
  for (const sign of signs) {
    if (parts.at(-1)!.length + sign.length > 50) parts.push('');
    parts[parts.length - 1] += sign;
  }
  if (parts.length === 1) return `filename*=UTF-8''${parts[0]}`;
  return parts.map((p, i) => `filename*${i}*=${i === 0 ? "UTF-8''" : ''}${p}`).join('; ');
}
/** Base 64 in lines of 76 characters. */
const lines = (text: string): string => text.replace(/.{1,76}/g, '$&\r\n');
/** A media type, and nothing that would end its header. */
const mediaType = (type: string): string =>
  /^[\w.+-]{1,60}\/[\w.+-]{1,80}$/.test(type) ? type : 'application/octet-stream';

/** Composes a message. Throws when an address is not one. */
export function compose(m: Message): string {
  const [from, ...to] = [m.from.address, ...m.to].map((a) => {
    const sent = sentAddress(a);
    if (sent === null) throw new Error(`“${a}” is not a mail address.`);
    return sent;
  });
  const words = [
    'Content-Type: text/plain; charset=utf-8',
    'Content-Transfer-Encoding: base64',
    '',
    lines(base64(bytes(m.body.replace(/\r\n?|\n/g, '\r\n')))),
  ];
  const { files = [], answers } = m;
  const answered = answers && `<${answers.replace(/[<>\s]/g, '')}>`;
  // No line of base 64 can look like it.
  const edge = `=_${m.id}`;
  return [
    `Date: ${dateHeader(m.date)}`,
    folded('From', `${phrase(m.from.name)} <${from}>`),
    folded('To', to.join(', ')),
    folded('Subject', encoded(m.subject)),
    `Message-ID: <${m.id}@${from!.split('@')[1]}>`,
    ...(answered ? [`In-Reply-To: ${answered}`, `References: ${answered}`] : []),
    ...(m.automatic ? [`Auto-Submitted: ${answered ? 'auto-replied' : 'auto-generated'}`] : []),
    'MIME-Version: 1.0',
    ...(files.length === 0
      ? words
      : [
          `Content-Type: multipart/mixed; boundary="${edge}"`,
          '',
          `--${edge}`,
          ...words,
          ...files.flatMap((f) => [
            `--${edge}`,
            `Content-Type: ${mediaType(f.type)}`,
            'Content-Transfer-Encoding: base64',
            folded('Content-Disposition', `attachment; ${nameParameter(f.name)}`),
            '',
            lines(f.data),
          ]),
          `--${edge}--`,
          '',
        ]),
  ].join('\r\n');
}
