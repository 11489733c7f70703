import { stoppedWords } from '../formula/guarded.ts';
import type { Field } from '../tables/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile, type CompileOptions } from '../formula/compile.ts';
import { toShown, toStored } from '../formula/stored.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { display } from './format.ts';
import type { Model } from './model.ts';

/** A piece of a template: words as they stand, or the formula of a `{…}` place. */
export type Piece = { words: string } | { formula: string };

/** Divides words into plain pieces and `{formula}` places. `{{` stands for one brace; an open brace without end is plain. */
export function pieces(template: string): Piece[] {
  const out: Piece[] = [];
  let words = '';
  for (let i = 0; i < template.length; i++) {
    const c = template[i]!;
    if (c === '{' && template[i + 1] === '{') {
      words += '{';
      i++;
      continue;
    }
    const end = c === '{' ? placeEnd(template, i) : -1;
    if (end < 0) {
      words += c;
      continue;
    }
    if (words) out.push({ words });
    words = '';
    out.push({ formula: template.slice(i + 1, end).trim() });
    i = end;
  }
  if (words) out.push({ words });
  return out;
}

function placeEnd(text: string, start: number): number {
  let depth = 0;
  for (let i = start; i < text.length; i++) {
    const c = text[i];
    if (c === '"') {
      do i++;
      while (i < text.length && (text[i] !== '"' || text[i - 1] === '\\'));
    } else if (c === '{') depth++;
    else if (c === '}' && --depth === 0) return i;
  }
  return -1;
}

const join = (list: Piece[]): string =>
  list.map((p) => ('words' in p ? p.words.replace(/\{/g, '{{') : `{${p.formula}}`)).join('');

export const shownTemplate = (stored: string, nameOf: (id: string) => string | undefined): string =>
  join(pieces(stored).map((p) => ('words' in p ? p : { formula: toShown(p.formula, nameOf) })));

export const storedTemplate = (shown: string, options: CompileOptions): string =>
  join(pieces(shown).map((p) => ('words' in p ? p : { formula: toStored(p.formula, options).stored })));

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
    volatile ||= compiled.volatile;
    const field = fieldOfPath(model, compiled.references, p.formula);
    return (f) => {
      const value = compiled.run(f);
      return value === null ? stoppedWords(compiled) : display(value, field);
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
