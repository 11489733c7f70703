import { stoppedWords } from '../formula/guarded.ts';
import type { Field } from '../tables/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile, type CompileOptions } from '../formula/compile.ts';
import { toShown, toStored } from '../formula/stored.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { display } from './format.ts';
import { joinPieces, pieces } from './words.ts';
import type { Model, RecordsRuntime } from './model.ts';
import { movesWithTime, spokenText } from './spoken.ts';

export const shownTemplate = (stored: string, nameOf: (id: string) => string | undefined): string =>
  joinPieces(pieces(stored).map((p) => ('words' in p ? p : { ...p, formula: toShown(p.formula, nameOf) })));

export const storedTemplate = (shown: string, options: CompileOptions): string =>
  joinPieces(pieces(shown).map((p) => ('words' in p ? p : { ...p, formula: toStored(p.formula, options).stored })));

/** The field whose format a formula's result takes: the one it ends in, when it is a plain path. */
export function fieldOfPath(
  model: Model,
  references: { from: number; to: number; id: string }[],
  text: string,
): Field | undefined {
  const last = references.at(-1);
  if (!last || last.to !== text.trimEnd().length || !/^[^()[\]+*/]*$/.test(text)) return undefined;
  for (const t of model.tables.values()) {
    const f = t.fields.get(last.id);
    if (f) return f;
  }
  return undefined;
}

/** Stands where a value is that whoever uses the app may not see, and words are for one that is missing. */
const HIDDEN = 'not shown to you';

export interface CompiledTemplate {
  run(frame: Value[]): string;
  problems: Problem[];
  reads: Dependency[];
  volatile: boolean;
}

/** Compiles words with values in them; each value takes the format of its field. */
export function compileTemplate(model: Model, template: string, options: CompileOptions): CompiledTemplate {
  const problems: Problem[] = [];
  const reads: Dependency[] = [];
  let volatile = false;
  const parts = pieces(template).map((p): ((frame: Value[]) => string) => {
    if ('words' in p) return () => p.words;
    const compiled = compile(p.formula, options);
    problems.push(...compiled.problems);
    reads.push(...compiled.dependencies);
    const { spoken, missing = '' } = p;
    volatile ||= compiled.volatile || movesWithTime(spoken);
    const field = fieldOfPath(model, compiled.references, p.formula);
    return (f) => {
      const value = compiled.run(f);
      const told = spoken
        ? spokenText(value, spoken, field, (f[0] as unknown as RecordsRuntime).now())
        : display(value, field);
      if (told) return told;
      if (value !== null) return missing;
      const isHidden = missing && (f[0] as unknown as RecordsRuntime).may?.hides(p.formula, f, options);
      return isHidden ? HIDDEN : stoppedWords(compiled) || missing;
    };
  });
  if (parts.length === 1) return { run: parts[0]!, problems, reads, volatile };
  const list = pieces(template);
  const separates = list.map(
    (p, i) => 'words' in p && /^\s*[·,;|/–-]\s*$/.test(p.words) && i > 0 && i < list.length - 1,
  );
  return {
    problems,
    reads,
    volatile,
    run(f) {
      let out = '';
      let separator = '';
      // A sign between two values stands only where both are filled in.
      parts.forEach((part, i) => {
        const text = part(f);
        if (separates[i]) separator = text;
        else if (text) {
          out += (out ? separator : '') + text;
          separator = '';
        }
      });
      return out;
    },
  };
}
