import { type Matcher, RE2JS } from 're2js';
import { spend } from './budget.ts';
import { xpathToRe2 } from './xpath-pattern.ts';
import { useEngine, type Match, type Pattern } from './patterns.ts';

/** RE2's way of matching (Cox, 2007) in JavaScript: time linear in the text. Importing this puts it in place. */
const FLAGS: Record<string, number> = { i: RE2JS.CASE_INSENSITIVE, m: RE2JS.MULTILINE };

/** A text of which every letter that is read takes so many steps of the evaluation. Read again and again, it counts again. */
class CountedText extends String {
  constructor(
    text: string,
    private readonly steps: number,
  ) {
    super(text);
  }
  override charCodeAt(at: number): number {
    spend(this.steps);
    return super.charCodeAt(at);
  }
  override indexOf(wanted: string, from = 0): number {
    const at = super.indexOf(wanted, from);
    spend(((at < 0 ? this.length : at) - from) >> 4);
    return at;
  }
}

class LinearPattern implements Pattern {
  /** At each letter the engine may have as many ways open as the pattern has parts; some eight take as long as a step. */
  private readonly steps: number;

  constructor(private readonly re: RE2JS) {
    this.steps = 1 + (re.programSize() >> 3);
  }

  private on(text: string): Matcher {
    // The engine takes whatever is a string to JavaScript, and gives parts of it as plain ones.
    return this.re.matcher(new CountedText(text, this.steps) as unknown as string);
  }

  isIn(text: string): boolean {
    return this.on(text).find();
  }

  matches(text: string): Match[] {
    const matcher = this.on(text);
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
