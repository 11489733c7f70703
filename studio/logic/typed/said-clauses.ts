import { peopleTable } from '../../../core/app/people.ts';
import type { Step } from '../../../core/app/schema.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { firstOf, saidIn, type Rule } from './clause.ts';
import { bare, capital, quoted, tableAt, type Hand } from './hand.ts';
import { recordsIn } from './records.ts';
import { fieldIn, pathTo } from './values.ts';

/** Where something goes, with the words that are left behind it. */
interface Aim {
  stored: string;
  rest: string;
}

/** The longest beginning of some words that `read` takes. */
function longest(words: string, read: (start: string) => string | null): Aim | null {
  const all = words.split(/\s+/).filter(Boolean);
  for (let n = all.length; n > 0; n--) {
    const start = all.slice(0, n).join(' ');
    const stored = read(start.replace(/[:,]$/, ''));
    if (stored) return { stored, rest: all.slice(n).join(' ') };
  }
  return null;
}

/** Mail addresses, or numbers, of whom some words name: the first field of that type of their table. */
const reached =
  (type: Field['type'], hand: Hand) =>
  (words: string): string | null => {
    if (type === 'mail' && /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(words)) return quoted(words);
    if (type === 'phone' && /^\+?\d[\d ]{2,}$/.test(words)) return quoted(words);
    const own = fieldIn(words, hand);
    if (own?.field.type === type && !own.of.several) return pathTo(own, hand);
    const of = recordsIn(words, hand);
    const field = of && tableAt(hand, of.table).fields.find((f) => f.type === type);
    if (!field || of.stored === hand.it?.stored) return null;
    return pathTo({ of, field }, hand);
  };

/** Whom to notify: a record of people, or all of them. */
const people =
  (hand: Hand) =>
  (words: string): string | null => {
    const of = recordsIn(words, hand);
    if (!of || of.table !== peopleTable(hand.app)?.id) return null;
    hand.said.set(of.stored, of.said);
    return of.stored;
  };

/** Do some words say when, and nothing else? */
const isWhen = (words: string): boolean =>
  /^(?:today|now|tomorrow|yesterday|tonight|later|soon|(?:in|after|every|each|at|on)\s+(?:an?\s+)?(?:\d|one|two|three|hour|day|week|month|minute|monday|tuesday|wednesday|thursday|friday|saturday|sunday)\S*(?:\s+\S+)?)$/i.test(
    words,
  );

/** “keeper thank you”, “to the keeper that …”, “thank you to the keeper”. */
function aimed(rest: string, read: (w: string) => string | null): Aim | null {
  const found = longest(rest.replace(/^to\s+/i, ''), read);
  // “and me”: somebody else is meant too. “tomorrow”: when, and not what.
  if (found && (/^(?:and|or|but|,)(?:\s|$)/i.test(found.rest) || isWhen(found.rest))) return null;
  if (found) return { ...found, rest: saidIn(found.rest) };
  const last = /^(.+?)\s+to\s+(.+)$/i.exec(rest);
  const stored = last && read(last[2]!);
  return stored ? { stored, rest: saidIn(last[1]!) } : null;
}

/** What is said aloud, copied or shared: a value at hand in braces, or the words themselves. */
function wordsIn(words: string, hand: Hand): string {
  const inQuotes = /^["“](.*)["”]$/.exec(words);
  if (inQuotes) return inQuotes[1]!;
  const field = fieldIn(words, hand);
  return field && !field.of.several ? `{${pathTo(field, hand)}}` : capital(words);
}

/** “this course”: shared or copied by what it is called. */
function titleOf(words: string, hand: Hand): string | null {
  const of = words ? recordsIn(words, hand) : null;
  const title =
    of && !of.several && tableAt(hand, of.table).fields.find((f) => f.id === tableAt(hand, of.table).titleField);
  return title ? `{${pathTo({ of: of!, field: title }, hand)}}` : null;
}

const questioned = (words: string): string => (words ? `${capital(words.replace(/\?$/, ''))}?` : '');

function subjectAndBody(words: string, hand: Hand): { subject?: string; body?: string } {
  const subject = words && plainly(words, hand, true);
  return subject ? { subject, body: /[.?!}]$/.test(subject) ? subject : `${subject}.` } : {};
}
/** With nobody to go to yet: “mail saying the boats of today”. */
function unaimed(kind: 'mail' | 'text message' | 'notify', rest: string, hand: Hand): Step | null {
  if (!rest) return hand.make.step(kind);
  if (!/^(?:saying|that|about)\s/i.test(rest)) return null;
  const words = plainly(saidIn(rest), hand, true);
  if (kind === 'mail') return hand.make.step('mail', subjectAndBody(saidIn(rest), hand));
  return kind === 'notify' ? hand.make.step(kind, { title: words }) : hand.make.step(kind, { words });
}
const mailTo = (rest: string, hand: Hand): Step | null => {
  const to = aimed(rest, reached('mail', hand));
  if (!to) return unaimed('mail', rest, hand);
  return hand.make.step('mail', {
    to: to.stored,
    ...subjectAndBody(to.rest, hand),
  });
};
const textTo = (rest: string, hand: Hand): Step | null => {
  const to = aimed(rest, reached('phone', hand));
  if (!to) return unaimed('text message', rest, hand);
  return hand.make.step('text message', { to: to.stored, ...(to.rest && { words: plainly(to.rest, hand, true) }) });
};
const notifyTo = (rest: string, hand: Hand): Step | null => {
  const to = aimed(rest, people(hand));
  if (!to) return unaimed('notify', rest, hand);
  return hand.make.step('notify', { to: to.stored, ...(to.rest && { title: plainly(to.rest, hand, true) }) });
};
const called = (rest: string, hand: Hand): Step | null => {
  const to = rest ? reached('phone', hand)(rest) : null;
  return to ? hand.make.step('address', { how: 'call', to }) : null;
};

const asked = (rest: string, hand: Hand): Step =>
  hand.make.step('question', {
    words: questioned(rest),
    ...(/\b(?:number|how (?:many|much)|amount|weight|count|price|quantity)\b/i.test(rest) && { as: 'number' as const }),
    ...(/\b(?:date|day|when)\b/i.test(rest) && { as: 'date' as const }),
  });

/** “yoga, running or chess”: what a menu offers. */
function offered(rest: string, hand: Hand): Step | null {
  const table = recordsIn(bare(rest.replace(/^(?:of|one of|from)\s+/i, '')), hand, true);
  if (table?.query)
    return hand.make.step('menu', {
      from: 'records',
      query: table.query,
      resultName: `chosen ${tableAt(hand, table.table).one}`,
    });
  const choices = rest.split(/\s*,\s*(?:or\s+|and\s+)?|\s+or\s+/).filter(Boolean);
  if (choices.length < 2) return null;
  return hand.make.step('menu', { choices: choices.map((w) => hand.make.step('choice', { words: capital(w) })) });
}

const SHOWN =
  /^(?:an?\s+)?(?:alert|message|popup|pop-up|toast|notification|dialog|snackbar)?\s*(?:saying|that says|with|:)?\s*/i;

/** What is told to people, asked of them, or handed to another app of the phone. */
export const saidClause = firstOf([
  [
    /^(?:text[- ]to[- ]speech|read out|read aloud|say aloud|say out loud|speak)\b\s*/i,
    (rest, hand) => hand.make.step('speak', { words: rest ? wordsIn(rest, hand) : '' }),
  ],
  [/^(?:send )?(?:an? )?(?:text message|text|sms)\b:?\s*/i, textTo],
  [/^(?:send )?(?:an? )?(?:push notification|push|notification)\b\s*/i, notifyTo],
  [/^notify\b\s*/i, notifyTo],
  [
    /^let\s+(?=.+\bknow\b)/i,
    (rest, hand) => {
      const m = /^(.+?)\s+(know\b.*)$/i.exec(rest);
      const to = m && people(hand)(m[1]!);
      return to ? hand.make.step('notify', { to, title: capital(saidIn(m[2]!)) }) : null;
    },
  ],
  [/^(?:send )?(?:an? )?(?:e-?mail|mail)\b\s*/i, mailTo],
  [/^write to\s+/i, mailTo],
  [
    /^send\s+(.+?)\s+an?\s+(e-?mail|mail|text message|text|sms|push notification|notification|notice)\b\s*/i,
    (rest, hand, m) => {
      const step = /mail/i.test(m[2]!) ? mailTo : /noti/i.test(m[2]!) ? notifyTo : textTo;
      // Said at once, since what is said may begin as a name does.
      return step(`${m[1]!}${rest && ` : ${saidIn(rest)}`}`, hand);
    },
  ],
  [/^(?:call|phone|ring|dial)\b\s*/i, called],
  [
    /^(?:let (?:them |people |the person )?(?:choose|pick)|choose|pick)\b\s*(?:from\b\s*)?(?!an? (?:photo|picture|image))/i,
    offered,
  ],
  [
    /^(?:show )?(?:an? )?menu\b\s*(?:with|of|from|:)?\s*/i,
    (rest, hand) => (rest ? offered(rest, hand) : hand.make.step('menu')),
  ],
  [
    /^(?:ask for|prompt for|ask (?=how (?:many|much)|what|which|when|where|who))\s*/i,
    (rest, hand) => asked(rest, hand),
  ],
  [
    /^(?:ask (?:(?:them|people|the person|the user) )?(?:whether|if)|ask|confirm)\b\s*/i,
    (rest, hand) => hand.make.step('ask', { words: questioned(rest) }),
  ],
  [
    /^(?:copy)\b\s*/i,
    (rest, hand) => {
      const what = rest.replace(/\s+(?:to|into|on) the clipboard$/i, '');
      return what
        ? hand.make.step('copy', { words: titleOf(what, hand) ?? plainly(what, hand) })
        : hand.make.step('copy');
    },
  ],
  [
    /^share\b\s*/i,
    (rest, hand) => hand.make.step('share', { words: rest ? (titleOf(rest, hand) ?? wordsIn(rest, hand)) : '' }),
  ],
  [
    /^(?:make |create |show )?(?:an? )?qr(?: code)?\b\s*(?:of|for|from)?\s*/i,
    (rest, hand) => hand.make.step('qr', { words: rest ? wordsIn(rest, hand) : '' }),
  ],
  [
    /^(?:notice|notify here|local notification)\b\s*/i,
    (rest, hand) => hand.make.step('notice', { title: capital(saidIn(rest)) }),
  ],
  [
    /^(?:show|display|say|tell|alert|popup|pop-up|pop up|toast|message)\b\s*/i,
    (rest, hand) => {
      const words = rest.replace(SHOWN, '');
      // “show how heavy it is” asks for something that is to be worked out.
      if (/^(?:how|what|where|which|who|why|whether)\s/i.test(words)) return null;
      // “show how heavy it is” asks for something that is to be worked out.
      if (/^(?:how|what|where|which|who|why|whether)\s/i.test(words)) return null;
      return hand.make.step('message', { words: words ? plainly(words, hand, true) : '' });
    },
  ],
] satisfies Rule[]);

/** Words as they were typed, or the value they name. */
function plainly(words: string, hand: Hand, begin = false): string {
  const inQuotes = /^["“](.*)["”]$/.exec(words);
  if (inQuotes) return inQuotes[1]!;
  const field = /^(?:the|its|my)\s|\bof\b/i.test(words) ? fieldIn(words, hand) : null;
  if (field && !field.of.several) return `{${pathTo(field, hand)}}`;
  const parts = /^(?:the|its)\s/i.test(words) ? words.split(/(,\s*|\s+and\s+)/i) : [];
  const told = parts.map((p, i) => {
    const one = i % 2 ? null : fieldIn(p, hand);
    return i % 2 ? p : one && !one.of.several ? `{${pathTo(one, hand)}}` : null;
  });
  if (told.length > 1 && told.every((p) => p !== null)) return told.join('');
  return begin ? capital(words) : words;
}
