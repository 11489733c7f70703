/** A name that is not taken, by counting up: "Hives", "Hives 2". */
export function freeName(wanted: string, taken: Iterable<string>): string {
  const used = new Set([...taken].map((n) => n.toLowerCase()));
  const base = wanted.trim() || 'Untitled';
  if (!used.has(base.toLowerCase())) return base;
  for (let i = 2; ; i++) if (!used.has(`${base} ${i}`.toLowerCase())) return `${base} ${i}`;
}

/** What a record is called that nobody has given a name yet; `one` is what one record of its table is called. */
export const untitled = (one: string): string => `Untitled ${one}`;

/** Those that English counts in its own way. */
const IRREGULAR: Readonly<Record<string, string>> = {
  people: 'person',
  children: 'child',
  men: 'man',
  women: 'woman',
  mice: 'mouse',
  geese: 'goose',
  feet: 'foot',
  teeth: 'tooth',
  halves: 'half',
  shelves: 'shelf',
  leaves: 'leaf',
  lives: 'life',
  knives: 'knife',
  criteria: 'criterion',
  news: 'news item',
  series: 'series',
  species: 'species',
};

/** What one record of a table is called, from the table's English plural: "Hives" gives "hive". */
export function singular(plural: string): string {
  const words = plural.trim().toLowerCase().split(/\s+/);
  const last = words.pop() ?? '';
  const irregular = IRREGULAR[last];
  if (irregular) return [...words, irregular].join(' ');
  let one = last;
  if (/[^aeiou]ies$/.test(last)) one = `${last.slice(0, -3)}y`;
  else if (/(ss|sh|ch|x|z)es$/.test(last)) one = last.slice(0, -2);
  else if (/[^su]s$/.test(last)) one = last.slice(0, -1);
  const name = [...words, one].join(' ');
  return name || 'record';
}

/** Words that begin with a vowel and sound as if they did not; and the other way round, with letters said one by one. */
const SOUNDS_LIKE_YOU = /^(?:uni(?![nm])|us[eu]|uti|ur[lis]|ubi|eu|ewe|onc?e\b)/i;
const SOUNDS_LIKE_A_VOWEL = /^(?:hour|honest|hono|heir)/i;
const SPELT = /^[FHLMNRSX](?:[A-Z]|-|$)/;

/** A thing with its article: "a hive", "an article", "an hour", "a unit". */
export function aOrAn(thing: string): string {
  const vowel = /^[aeiou]/i.test(thing) && !SOUNDS_LIKE_YOU.test(thing);
  return `${vowel || SOUNDS_LIKE_A_VOWEL.test(thing) || SPELT.test(thing) ? 'an' : 'a'} ${thing}`;
}
