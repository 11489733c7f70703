import { RE2JS } from 're2js';
import { xpathToRe2 } from './xpath-pattern.ts';
import { useEngine, type Match, type Pattern } from './patterns.ts';

/** RE2's way of matching (Cox, 2007) in JavaScript: time linear in the text. Importing this puts it in place. */
const FLAGS: Record<string, number> = { i: RE2JS.CASE_INSENSITIVE, m: RE2JS.MULTILINE };

class LinearPattern implements Pattern {
  constructor(private readonly re: RE2JS) {}

  isIn(text: string): boolean {
    return this.re.matcher(text).find();
  }

  matches(text: string): Match[] {
    const matcher = this.re.matcher(text);
    const out: Match[] = [];
    while (matcher.find()) {
      const groups = Array.from({ length: matcher.groupCount() }, (_, i) => matcher.group(i + 1) ?? null);
      out.push({ from: matcher.start(), to: matcher.end(), groups });
    }
    return out;
  }
}

const quoted = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

useEngine((source, flags) => {
  const pattern = flags.includes('q') ? quoted(source) : xpathToRe2(source, flags);
  if (pattern === null) return null;
  try {
    return new LinearPattern(
      RE2JS.compile(
        pattern,
        [...flags].reduce((n, f) => n | (FLAGS[f] ?? 0), 0),
      ),
    );
  } catch {
    return null;
  }
});
