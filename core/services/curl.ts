import { METHODS, type Method } from './schema.ts';

/** A request as a pasted curl line tells it. */
export interface Pasted {
  method: Method;
  url: string;
  headers: [name: string, value: string][];
  body: string | null;
  /** Name and password that were in the line; they belong to the host, not to the app. */
  user: string | null;
  /** What of the line was not taken over, each with why. */
  leftOut: string[];
}

/** A line that cannot be read as a request, in words. */
export class NoRequest extends Error {
  override name = 'NoRequest';
}

/** Options that change nothing about what is asked, and how many words each takes. */
const WITHOUT_EFFECT: Record<string, number> = {
  '-s': 0,
  '--silent': 0,
  '-S': 0,
  '--show-error': 0,
  '-v': 0,
  '--verbose': 0,
  '-i': 0,
  '--include': 0,
  '-L': 0,
  '--location': 0,
  '--compressed': 0,
  '-f': 0,
  '--fail': 0,
  '-g': 0,
  '--globoff': 0,
  '-#': 0,
  '--http1.1': 0,
  '--http2': 0,
  '-o': 1,
  '--output': 1,
  '-w': 1,
  '--write-out': 1,
  '-m': 1,
  '--max-time': 1,
  '--connect-timeout': 1,
  '--retry': 1,
};
/** Options of one letter that take a word, which may follow at once: -XPOST. */
const LETTERS_WITH_WORD = 'XHdubAeFomwTx';

/** Reads a pasted curl line, as shells divide it into words. Throws {@link NoRequest}. */
export function readCurl(line: string): Pasted {
  const words = shellWords(line.trim());
  if (!/^(.*[\\/])?curl(\.exe)?$/i.test(words[0] ?? '')) throw new NoRequest('The line does not begin with “curl”.');
  const headers: [string, string][] = [];
  const data: string[] = [];
  const leftOut: string[] = [];
  let url: string | null = null;
  let method: string | null = null;
  let user: string | null = null;
  let asQuery = false;
  const rest = words.slice(1).flatMap((w) => {
    // Several letters that take no word may stand together: -sSL.
    if (/^-[sSvifLgkGI#]{2,}$/.test(w)) return Array.from(w.slice(1), (letter) => `-${letter}`);
    const joined = new RegExp(`^-([${LETTERS_WITH_WORD}])(.+)$`, 's').exec(w);
    if (joined) return [`-${joined[1]!}`, joined[2]!];
    const equal = /^(--[a-z-]+)=(.*)$/s.exec(w);
    return equal ? [equal[1]!, equal[2]!] : [w];
  });
  for (let i = 0; i < rest.length; i++) {
    const word = rest[i]!;
    const next = (): string => {
      const value = rest[++i];
      if (value === undefined) throw new NoRequest(`Something is missing behind “${word}”.`);
      return value;
    };
    if (word === '-X' || word === '--request') method = next();
    else if (word === '-H' || word === '--header') {
      const [, name, value] = /^([^:;]+):\s*(.*)$/s.exec(next()) ?? [];
      if (name) headers.push([name.trim(), value!.trim()]);
    } else if (/^(-d|--data|--data-raw|--data-ascii|--data-binary|--data-urlencode|--json)$/.test(word)) {
      const value = next();
      if (value.startsWith('@') && word !== '--data-raw') leftOut.push(`the content of the file ${value.slice(1)}`);
      else data.push(word === '--data-urlencode' ? encoded(value) : value);
      if (word === '--json') headers.push(['Content-Type', 'application/json'], ['Accept', 'application/json']);
    } else if (word === '-G' || word === '--get') asQuery = true;
    else if (word === '-I' || word === '--head') leftOut.push('asking for the head alone');
    else if (word === '-u' || word === '--user') user = next();
    else if (word === '-A' || word === '--user-agent') headers.push(['User-Agent', next()]);
    else if (word === '-e' || word === '--referer') headers.push(['Referer', next()]);
    else if (word === '-b' || word === '--cookie') headers.push(['Cookie', next()]);
    else if (word === '-F' || word === '--form') leftOut.push(`the part ${next().split('=')[0]!} of a form with files`);
    else if (word === '-k' || word === '--insecure') leftOut.push('taking any certificate: it must be valid');
    else if (word === '-x' || word === '--proxy') leftOut.push(`the proxy ${next()}`);
    else if (word === '--url') url = next();
    else if (word in WITHOUT_EFFECT) i += WITHOUT_EFFECT[word]!;
    else if (word.startsWith('-') && word.length > 1) leftOut.push(`the option ${word}`);
    else if (url === null) url = word;
    else leftOut.push(`“${word}”`);
  }
  if (!url) throw new NoRequest('The line names no address.');
  const whole = /^[a-z][a-z0-9+.-]*:\/\//i.test(url) ? url : `http://${url}`;
  const [, scheme] = /^([a-z][a-z0-9+.-]*:)/i.exec(whole) ?? [];
  if (scheme && !/^https?:$/i.test(scheme))
    throw new NoRequest(`Addresses that begin with “${scheme}” are not asked, only those with https: or http:.`);
  if (!URL.canParse(whole)) throw new NoRequest(`“${url}” is no address.`);
  const body = data.length ? data.join('&') : null;
  const named = (method ?? (body !== null && !asQuery ? 'POST' : 'GET')).toUpperCase();
  if (!(METHODS as readonly string[]).includes(named))
    throw new NoRequest(`Requests with ${named} are not asked here.`);
  const address = new URL(whole);
  if (asQuery && body) for (const [name, value] of new URLSearchParams(body)) address.searchParams.append(name, value);
  return {
    method: named as Method,
    url: address.href,
    headers,
    body: asQuery ? null : body,
    user,
    leftOut,
  };
}

/** `name=what is to be encoded`, as --data-urlencode takes it. */
function encoded(value: string): string {
  const [, name, text] = /^([^=]*)=(.*)$/s.exec(value) ?? [null, '', value];
  return name ? `${name}=${encodeURIComponent(text!)}` : encodeURIComponent(text!);
}

const ESCAPES: Record<string, string> = {
  n: '\n',
  r: '\r',
  t: '\t',
  '\\': '\\',
  "'": "'",
  '"': '"',
  a: '\x07',
  b: '\b',
  f: '\f',
  v: '\v',
};

/** Divides a line into words as a POSIX shell does, `$'…'` included; line ends behind `\` and `^` go on. */
export function shellWords(line: string): string[] {
  const words: string[] = [];
  let word: string | null = null;
  const add = (text: string): void => void (word = (word ?? '') + text);
  for (let i = 0; i < line.length; i++) {
    const c = line[i]!;
    const rest = line.slice(i);
    const goesOn = /^[\\^]\r?\n/.exec(rest);
    if (goesOn) i += goesOn[0].length - 1;
    else if (/\s/.test(c)) {
      if (word !== null) words.push(word);
      word = null;
    } else if (c === '\\') add(line[++i] ?? '');
    else if (c === "'") {
      const end = line.indexOf("'", i + 1);
      if (end < 0) throw new NoRequest('A quote is not closed.');
      add(line.slice(i + 1, end));
      i = end;
    } else if (rest.startsWith("$'")) {
      let text = '';
      let at = i + 2;
      for (; line[at] !== "'"; at++) {
        if (at >= line.length) throw new NoRequest('A quote is not closed.');
        if (line[at] !== '\\') text += line[at]!;
        else {
          const code = /^\\(?:u([0-9a-f]{1,4})|x([0-9a-f]{1,2}))/i.exec(line.slice(at));
          if (code) {
            text += String.fromCharCode(Number.parseInt((code[1] ?? code[2])!, 16));
            at += code[0].length - 1;
          } else text += ESCAPES[line[++at]!] ?? line[at] ?? '';
        }
      }
      add(text);
      i = at;
    } else if (c === '"') {
      let text = '';
      let at = i + 1;
      for (; line[at] !== '"'; at++) {
        if (at >= line.length) throw new NoRequest('A quote is not closed.');
        if (line[at] === '\\' && /["\\$`]/.test(line[at + 1] ?? '')) at++;
        text += line[at]!;
      }
      add(text);
      i = at;
    } else add(c);
  }
  if (word !== null) words.push(word);
  return words;
}
