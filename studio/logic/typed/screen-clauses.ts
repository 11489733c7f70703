import { elementName } from '../../../core/app/names.ts';
import type { App, Element, Screen, Step, StepKind } from '../../../core/app/schema.ts';
import { walkElements } from '../../../core/document/walk.ts';
import type { Field, Table } from '../../../core/tables/schema.ts';
import { firstOf, type Rule } from './clause.ts';
import { bare, forms, quoted, same, tableAt, type Hand } from './hand.ts';
import { recordsIn } from './records.ts';
import { fieldIn, figureIn, pathTo, spanIn, thingCalled, valueIn } from './values.ts';

/** The screen that words name: by its name, whole; else the one whose name holds all the words that count (“hives” for All hives). */
function screenCalled(words: string, hand: Hand, byNameOnly: boolean): Screen | null {
  const text = bare(words).replace(/^(?:my\s+)?(?:screen|page)\s+/i, '');
  const cut = text.replace(/\s+(?:screen|page|list|view|tab)$/i, '');
  const { screens } = hand.app;
  const whole = (w: string): Screen | undefined => screens.find((s) => same(s.name, w));
  const exact = whole(text) ?? whole(cut);
  if (exact || byNameOnly) return exact ?? null;
  const wanted = wordsThatCount(cut);
  const held = wanted.length
    ? screens.filter((s) =>
        wanted.every((w) => wordsThatCount(s.name).some((h) => forms(h).includes(w) || forms(w).includes(h))),
      )
    : [];
  return held.length === 1 ? held[0]! : (held.find((s) => wordsThatCount(s.name).length === wanted.length) ?? null);
}
const wordsThatCount = (s: string): string[] =>
  s
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w && !['the', 'of', 'all', 'my', 'a', 'an'].includes(w));

/** Opens a screen; one that shows a record is given the one at hand that fits. */
function opening(rest: string, hand: Hand, byNameOnly = false): Step | null {
  const words = rest.replace(/^this\s+/i, '');
  if (/^https?:\/\/\S+$/i.test(rest)) return hand.make.step('address', { how: 'open', to: quoted(rest) });
  const target = screenCalled(words, hand, byNameOnly);
  if (!target) return opensAddress(rest, hand);
  if (!target.given) return hand.make.step('open', { screen: target.id, give: '' });
  const give = recordsIn(words, hand) ?? hand.it;
  const fits =
    give && !give.several && give.table === target.given ? give : hand.it?.table === target.given ? hand.it : null;
  if (!fits && !target.optional && !target.finds) return null;
  if (fits) hand.said.set(fits.stored, fits.said);
  return hand.make.step('open', { screen: target.id, give: fits?.stored ?? '' });
}

/** “the website of the supplier”: an address that a field holds. */
function opensAddress(rest: string, hand: Hand): Step | null {
  const field = fieldIn(rest, hand);
  if (field?.field.type !== 'web' || field.of.several) return null;
  return hand.make.step('address', { how: 'open', to: pathTo(field, hand) });
}

/** The element of any screen that some words name, whole. */
function elementCalled(words: string, app: App, inputs = false): Element | null {
  const name = bare(words);
  let found: Element | null = null;
  for (const s of app.screens)
    walkElements<Element>([s.root], (e) => {
      if (e.id !== s.root.id && (!inputs || e.kind === 'input') && same(elementName(app, e), name)) found ??= e;
    });
  return found;
}

const acts =
  (how: Extract<Step, { do: 'element' }>['how']) =>
  (rest: string, hand: Hand): Step | null => {
    const found = elementCalled(rest, hand.app);
    return found && hand.make.step('element', { how, element: found.id });
  };
const plainStep =
  (kind: StepKind) =>
  (rest: string, hand: Hand): Step | null =>
    rest ? null : hand.make.step(kind);

const routineCalled = (words: string, hand: Hand): Step | null => {
  const found = hand.app.routines.find(
    (r) => same(r.name, bare(words).replace(/^routine\s+/i, '')) && r.id !== hand.routine.id,
  );
  if (!found) return null;
  const fits = found.given && hand.it?.table === found.given && !hand.it.several;
  return hand.make.step('run', { routine: found.id, ...(fits && { record: hand.it!.stored }) });
};

const fieldIds = (t: Table, ...types: Field['type'][]): string[] =>
  t.fields.filter((f) => types.length === 0 || types.includes(f.type)).map((f) => f.id);
const first = (key: string, ids: string[]): object => (ids[0] ? { [key]: ids[0] } : {});

/** A file of records, named after its table. */
const fileOf =
  (kind: 'csv' | 'pdf' | 'calendar file' | 'contacts', more: (t: Table) => object) =>
  (rest: string, hand: Hand): Step | null => {
    const words = rest
      .replace(/^(?:file\s+)?(?:of|for|from|with|about)\s+/i, '')
      .replace(/\s+(?:to|as|into)\s+(?:an?\s+)?(?:csv|pdf|file|spreadsheet|table file)(?:\s+file)?$/i, '');
    if (!words || same(words, 'file')) return hand.make.step(kind);
    const of = recordsIn(bare(words), hand, true);
    if (!of?.query) return null;
    const table = tableAt(hand, of.table);
    return hand.make.step(kind, { name: table.name, query: of.query, ...more(table) });
  };
const csv = fileOf('csv', (t) => ({ columns: fieldIds(t).slice(0, 8) }));
const pdf = fileOf('pdf', (t) => ({ before: `# ${t.name}`, columns: fieldIds(t).slice(0, 5) }));
const calendar = fileOf('calendar file', (t) => ({
  ...first('starts', fieldIds(t, 'datetime', 'date')),
  ...first('words', fieldIds(t, 'longtext')),
}));
const contacts = fileOf('contacts', (t) => ({
  ...first('mail', fieldIds(t, 'mail')),
  ...first('phone', fieldIds(t, 'phone')),
}));

/** A step about one text or picture at hand: “sum up the notes”. */
const about =
  (kind: 'sum up' | 'judge' | 'describe', key: 'text' | 'picture') =>
  (rest: string, hand: Hand): Step | null => {
    if (!rest) return hand.make.step(kind);
    const field = fieldIn(rest, hand);
    const value = field && !field.of.several ? pathTo(field, hand) : thingCalled(rest, hand)?.id;
    return value ? hand.make.step(kind, { [key]: value }) : null;
  };

const finding =
  (kind: 'get' | 'find') =>
  (rest: string, hand: Hand): Step | null => {
    const of = recordsIn(kind === 'get' ? bare(rest).replace(/^one\s+/i, '') : rest, hand, true);
    if (!of?.query) return null;
    const table = tableAt(hand, of.table);
    return hand.make.step(kind, {
      query: of.query,
      resultName: kind === 'get' ? `the ${table.one}` : table.name.toLowerCase(),
    });
  };
const figure =
  (how: 'count' | 'sum' | 'mean') =>
  (rest: string, hand: Hand): Step | null => {
    const value = figureIn(how, rest.replace(/^(?:the|how many)\s+/i, ''), hand);
    return value ? hand.make.step('work out', { value }) : null;
  };

/** What is opened, shown, made, found or asked of the phone. */
export const screenClause = firstOf([
  [/^(?:go )?back$/i, plainStep('back')],
  [/^(?:go )?(?:home|to (?:the )?(?:start|first screen|home(?: screen)?))$/i, plainStep('start')],
  [/^(?:close|dismiss)(?: (?:the |this )?(?:sheet|popup|dialog))?$/i, plainStep('close')],
  [/^(?:refresh|reload)(?: (?:the |this )?(?:data|screen|records|list))?$/i, plainStep('refresh')],
  [/^(?:stop|end|finish)(?: here| the routine)?$/i, plainStep('stop')],
  [/^(?:stop|mute) the (?:sound|music)$/i, plainStep('silence')],
  [/^(?:buzz|vibrate|shake)(?: the phone)?$/i, plainStep('buzz')],
  [/^play(?: (?:a |the )?(?:sound|music|audio))?$/i, plainStep('sound')],
  [/^(?:record (?:a |the )?(?:sound|voice|audio|memo)|voice memo)$/i, plainStep('record')],
  [/^(?:scan|read)(?: (?:an? |the )?(?:bar ?code|qr(?: code)?|code))?$/i, plainStep('scan')],
  [
    /^(?:where am i|(?:read|get|find|fetch)(?: the| my)? (?:place|location|position)|location|gps)\??$/i,
    plainStep('place'),
  ],
  [/^(?:keep (?:the screen )?awake|keep the screen on|stay awake)$/i, plainStep('awake')],
  [
    /^(?:take|pick|choose|upload|add) (?:an? |the )?(?:photo|picture|image)(?: (?:from|with) the (gallery|camera))?$/i,
    (_rest, hand, m) => hand.make.step('photo', { ...(m[1] && { from: m[1].toLowerCase() as 'gallery' | 'camera' }) }),
  ],
  [/^wait until\s+|^hold until\s+/i, () => null],
  [
    /^(?:wait|delay|pause|sleep)\b\s*(?:for\s+|by\s+)?/i,
    (rest, hand) => {
      if (!rest) return hand.make.step('wait');
      const span = spanIn(rest);
      return span && hand.make.step('wait', { time: span.stored });
    },
  ],
  [/^(?:make |create |print |write )?(?:an? )?pdf\b\s*/i, pdf],
  [/^(?:print)\s+/i, pdf],
  [/^(?:make |create |write )?(?:an? )?(?:csv|table file|spreadsheet)\b\s*/i, csv],
  [/^(?:export|download)\b\s*/i, (rest, hand) => (/\bpdf$/i.test(rest) ? pdf(rest, hand) : csv(rest, hand))],
  [/^(?:make |create |write )?(?:an? )?(?:calendar|ical)\b(?: file)?\s*/i, calendar],
  [/^(?:make |create |write )?(?:an? )?(?:contact cards?|contacts|vcards?)\b\s*/i, contacts],
  [/^(?:sum up|summari[sz]e)\b\s*/i, about('sum up', 'text')],
  [/^(?:judge|classify)\b\s*/i, about('judge', 'text')],
  [/^describe\b\s*/i, about('describe', 'picture')],
  [/^(?:count)\s+(?!up|down)/i, figure('count')],
  [/^(?:add up|sum|total)\s+/i, figure('sum')],
  [/^(?:average|calculate the average(?: of)?)\s+/i, figure('mean')],
  [
    /^(?:a )?random number$/i,
    (_rest, hand) => {
      hand.said.set('random number()', 'a random number');
      return hand.make.step('work out', { value: 'random number()' });
    },
  ],
  [
    /^(?:work out|calculate|compute)\s+/i,
    (rest, hand) => {
      const value = valueIn(rest, hand);
      return value && value !== 'null' && !value.startsWith('"') ? hand.make.step('work out', { value }) : null;
    },
  ],
  [/^find (?=an? |the |one )(?!all|several)|^(?:look up|get)\s+/i, finding('get')],
  [/^find\s+/i, finding('find')],
  [/^(?:hide)\s+/i, acts('hide')],
  [/^(?:enable)\s+/i, acts('enable')],
  [/^(?:disable)\s+/i, acts('disable')],
  [/^(?:scroll to)\s+/i, acts('scroll')],
  [/^(?:focus(?: on)?)\s+/i, acts('focus')],
  [/^show\s+/i, acts('show')],
  [
    /^fill in\s+/i,
    (rest, hand) => {
      const found = elementCalled(rest, hand.app, true);
      return found && hand.make.step('fill', { element: found.id });
    },
  ],
  [/^(?:run|start|do)\s+(?:the\s+)?/i, routineCalled],
  [
    /^(?:open|go to|navigate to|show|view|switch to|see|jump to)\s+/i,
    (rest, hand, m) =>
      /^show/i.test(m[0]) && /\b(?:message|alert|menu|popup)\b/i.test(rest)
        ? null
        : opening(rest, hand, /^show/i.test(m[0])),
  ],
  [
    /^give back\s+/i,
    (rest, hand) => {
      const value = valueIn(rest, hand);
      return value ? hand.make.step('give', { value }) : null;
    },
  ],
  [/^(?=\S)/, routineCalled],
] satisfies Rule[]);
