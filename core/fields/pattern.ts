/**
 * Does a text look like a pattern? `#` is a digit, `@` a letter, `?` any character, `*` any number of them;
 * everything else stands for itself, in capitals or not. Matching never goes back further than the last `*`, so
 * that no pattern takes long.
 */
export function patternFits(pattern: string, text: string): boolean {
  const p = [...pattern.toLowerCase()];
  const t = [...text.toLowerCase()];
  let i = 0;
  let star = -1;
  let resume = 0;
  for (let j = 0; j < t.length;) {
    if (p[i] === '*') {
      star = i++;
      resume = j;
    } else if (i < p.length && fits(p[i]!, t[j]!)) {
      i++;
      j++;
    } else if (star >= 0) {
      i = star + 1;
      j = ++resume;
    } else return false;
  }
  while (p[i] === '*') i++;
  return i === p.length;
}

function fits(sign: string, c: string): boolean {
  if (sign === '#') return c >= '0' && c <= '9';
  if (sign === '@') return /\p{L}/u.test(c);
  return sign === '?' || sign === c;
}
