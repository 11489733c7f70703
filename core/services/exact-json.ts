/** Numbers of so many digits may be longer than JavaScript’s numbers can hold. */
const LONG = /\d{16}/;
const TOKEN = /"(?:[^"\\]|\\.)*"|-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?/gs;

/**
 * JSON (RFC 8259) in which no number is bent: one that JavaScript cannot hold exactly becomes a text of its digits. Throws
 * a SyntaxError where it is no JSON.
 */
export function exactJson(text: string): unknown {
  if (!LONG.test(text)) return JSON.parse(text);
  return JSON.parse(text.replace(TOKEN, (token) => (isBent(token) ? `"${token}"` : token)));
}

function isBent(token: string): boolean {
  if (token.startsWith('"') || !LONG.test(token)) return false;
  const [digits, exponent] = significant(token);
  const [again, power] = significant(String(Number(token)));
  return digits !== again || exponent !== power;
}

/** The digits of a number without noughts around them, and the power of ten of the last. */
function significant(text: string): [digits: string, exponent: number] {
  const [, whole, fraction = '', e = '0'] = /^-?(\d+)(?:\.(\d+))?(?:[eE]([+-]?\d+))?$/.exec(text) ?? [];
  if (whole === undefined) return ['', NaN];
  const all = (whole + fraction).replace(/^0+/, '');
  const digits = all.replace(/0+$/, '');
  return [digits, digits ? Number(e) - fraction.length + all.length - digits.length : 0];
}
