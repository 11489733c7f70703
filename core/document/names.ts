/** A name that is not taken, by counting up: "Hives", "Hives 2". */
export function freeName(wanted: string, taken: Iterable<string>): string {
  const used = new Set([...taken].map((n) => n.toLowerCase()));
  const base = wanted.trim() || 'Untitled';
  if (!used.has(base.toLowerCase())) return base;
  for (let i = 2; ; i++) if (!used.has(`${base} ${i}`.toLowerCase())) return `${base} ${i}`;
}

/** What one record of a table is called, from the table's English plural: "Hives" gives "hive". */
export function singular(plural: string): string {
  const words = plural.trim().toLowerCase().split(/\s+/);
  const last = words.pop() ?? '';
  let one = last;
  if (/[^aeiou]ies$/.test(last)) one = `${last.slice(0, -3)}y`;
  else if (/(ss|sh|ch|x|z)es$/.test(last)) one = last.slice(0, -2);
  else if (/[^su]s$/.test(last)) one = last.slice(0, -1);
  const name = [...words, one].join(' ');
  return name || 'record';
}
