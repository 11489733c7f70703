/** What is new in the text of a mail, apart from what it quotes and its signature. Plain text mail (RFC 3676, 4.3 and 4.5). */

/** Lines that begin what was answered, as mail programs write them in a few languages: "On …, … wrote:". */
const BEGINS_QUOTE = [
  /^\s*On\b.{5,200}\bwrote:\s*$/i,
  /^\s*Am\b.{5,200}\bschrieb\b.{0,120}:\s*$/i,
  /^\s*Le\b.{5,200}\ba écrit\s*:\s*$/i,
  /^\s*El\b.{5,200}\bescribió:\s*$/i,
  /^\s*Il\b.{5,200}\bha scritto:\s*$/i,
  /^\s*Op\b.{5,200}\bschreef\b.{0,120}:\s*$/i,
  /^\s*Em\b.{5,200}\bescreveu:\s*$/i,
  /^\s*Den\b.{5,200}\bskrev\b.{0,120}:\s*$/i,
  /^\s*W dniu\b.{5,200}\bpisze:\s*$/i,
  /^\s*-{2,}\s*(Original Message|Ursprüngliche Nachricht|Message d'origine|Mensaje original|Messaggio originale|Forwarded message)\s*-{2,}\s*$/i,
  /^\s*_{20,}\s*$/,
];
/** The headers of what was answered, as some programs copy them above it. */
const HEADERS = /^\s*\*?(From|Von|De|Da|Van|Från|Fra|Od):\*?\s.*\S/i;
const MORE_HEADERS = /^\s*\*?(Sent|Gesendet|Envoyé|Enviado|Inviato|Verzonden|Skickat|Date|Datum|To|An|À|Para|A|Aan|Subject|Betreff|Objet|Asunto|Oggetto):\*?\s/i; // prettier-ignore
const isQuoted = (line: string): boolean => /^\s?>/.test(line);

const beginsQuote = (line: string): boolean => BEGINS_QUOTE.some((b) => b.test(line));

/** Lines in which what begins a quotation, and was broken in two, is one again. */
function joined(lines: readonly string[]): string[] {
  const found: string[] = [];
  for (const line of lines) {
    const before = found.at(-1);
    if (before !== undefined && !beginsQuote(before) && !beginsQuote(line) && beginsQuote(`${before} ${line}`))
      found[found.length - 1] = `${before} ${line}`;
    else found.push(line);
  }
  return found;
}

/** The first line from which on everything was there before; the number of lines where nothing was. */
function endOfNew(lines: readonly string[]): number {
  for (const [i, line] of lines.entries()) {
    const after = lines.slice(i + 1);
    // Where there are words of their own below or among what is quoted, they stay.
    const isAllQuoted = !after.some(isQuoted) || after.every((l) => isQuoted(l) || !l.trim() || beginsQuote(l));
    if (beginsQuote(line) && isAllQuoted) return i;
    if (HEADERS.test(line) && after.slice(0, 4).some((l) => MORE_HEADERS.test(l))) return i;
    // The mark of a signature: two dashes and a space, of which some programs leave out the space.
    if (/^-- ?$/.test(line) && i > 0) return i;
  }
  return lines.length;
}

/** The text without what it quotes, and without the signature. Where nothing would be left, all of it. */
export function newWords(text: string): string {
  const lines = joined(text.replace(/\r\n?/g, '\n').split('\n'));
  const kept = lines.slice(0, endOfNew(lines)).filter((l, i, all) => {
    if (isQuoted(l)) return false;
    // The line above something quoted says whose it is.
    return !(beginsQuote(l) && all.slice(i + 1).some(isQuoted));
  });
  const words = kept
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
  return words || text.trim();
}
