import { FormulaError, type Node } from '../formula/ast.ts';
import { parse } from '../formula/parse.ts';
import type { Tables } from '../tables/names.ts';

/** Functions of several values, whose result is measured as all of them are. */
const OF_ALL = new Set(['sum', 'mean', 'min', 'max', 'median']);
/** Functions whose result is measured as their first value is. */
const OF_FIRST = new Set([
  'abs',
  'floor',
  'ceiling',
  'decimal',
  'round up',
  'round down',
  'round half up',
  'round half down',
]);

/** A number without a unit. */
const NONE = '';

/**
 * The unit of a stored formula's numbers, by the units of the fields it is made of: an amount times a price is money.
 * Undefined where they do not agree, or none has one.
 */
export function unitOfFormula(app: Pick<Tables, 'tables'>, stored: string): string | undefined {
  const fields = new Map(app.tables.flatMap((t) => t.fields.map((f) => [f.id, f] as const)));
  const ofField = (id: string): string => {
    const f = fields.get(id);
    return f?.unit ?? (f?.type === 'money' ? '€' : NONE);
  };
  /** The unit of a part; null where it has none that is one. */
  const unit = (n: Node | undefined): string | null => {
    if (!n) return null;
    switch (n.t) {
      case 'name':
      case 'path':
        return ofField(n.name);
      case 'literal':
        return typeof n.value === 'number' || n.value === null ? NONE : null;
      case 'unary':
      case 'filter':
        return unit(n.of);
      case 'if': {
        const [a, b] = [unit(n.then), unit(n.otherwise)];
        return a === NONE ? b : b === NONE || a === b ? a : null;
      }
      case 'list':
        return ofAll(n.items);
      case 'call':
        if (n.of.t !== 'name') return null;
        return OF_ALL.has(n.of.name) ? ofAll(n.args) : OF_FIRST.has(n.of.name) ? unit(n.args[0]) : NONE;
      case 'binary': {
        const [a, b] = [unit(n.left), unit(n.right)];
        if (a === null || b === null) return null;
        if (n.op === '*') return a === NONE ? b : b === NONE ? a : null;
        if (n.op === '/') return b === NONE ? a : a === b ? NONE : null;
        if (n.op === '+' || n.op === '-') return a === NONE ? b : b === NONE || a === b ? a : null;
        return null;
      }
      default:
        return null;
    }
  };
  const ofAll = (all: readonly Node[]): string | null => {
    const [first, ...others] = all.map(unit);
    return first !== undefined && others.every((u) => u === first) ? first : null;
  };
  try {
    return unit(parse(stored)) || undefined;
  } catch (e) {
    if (e instanceof FormulaError) return undefined;
    throw e;
  }
}

/** Gives a formula field, as a draft, another formula; its unit follows, unless the maker has said another. */
export function setFormula(
  app: Pick<Tables, 'tables'>,
  field: { formula?: string | undefined; unit?: string | undefined },
  stored: string,
): void {
  const was = unitOfFormula(app, field.formula ?? '');
  const isOwn = field.unit !== undefined && field.unit !== was;
  field.formula = stored;
  if (isOwn) return;
  const unit = unitOfFormula(app, stored);
  if (unit) field.unit = unit;
  else delete field.unit;
}
