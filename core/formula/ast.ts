/** The tree of a parsed formula. `from` and `to` are places in the text that was parsed. */
export interface Span {
  from: number;
  to: number;
}

export type BinaryOperator = '+' | '-' | '*' | '/' | '**' | '=' | '!=' | '<' | '<=' | '>' | '>=' | 'and' | 'or';

export type Node = Span &
  (
    | { t: 'literal'; value: null | boolean | number | string }
    | { t: 'at'; text: string }
    | { t: 'name'; name: string }
    | { t: 'unary'; of: Node }
    | { t: 'binary'; op: BinaryOperator; left: Node; right: Node }
    | { t: 'between'; of: Node; low: Node; high: Node }
    | { t: 'in'; of: Node; tests: Test[] }
    | { t: 'instance'; of: Node; type: string }
    | { t: 'path'; of: Node; name: string; nameFrom: number }
    | { t: 'filter'; of: Node; by: Node }
    | { t: 'call'; of: Node; args: Node[]; named: string[] | null }
    | { t: 'list'; items: Node[] }
    | { t: 'context'; entries: { key: string; value: Node }[] }
    | { t: 'range'; start: Node; end: Node; startIncluded: boolean; endIncluded: boolean }
    | { t: 'if'; test: Node; then: Node; otherwise: Node }
    | { t: 'for'; loops: Loop[]; body: Node }
    | { t: 'quantified'; every: boolean; loops: Loop[]; body: Node }
    | { t: 'function'; params: string[]; body: Node }
  );

export interface Loop {
  name: string;
  over: Node;
  /** The far end of `for i in 1..10`. */
  upTo: Node | null;
}

/** One alternative behind `in`: a comparison, or an expression to equal, hold or contain. */
export type Test = { op: '<' | '<=' | '>' | '>=' | '=' | '!=' | null; to: Node };

/** Something wrong with a formula, in words for the person who wrote it. */
export interface Problem extends Span {
  message: string;
  /** `error` stops the formula; `warning` is worth a look. */
  severity: 'error' | 'warning';
  /** It was found when the formula ran: it did more than it may. */
  stopped?: true;
}

export class FormulaError extends Error {
  constructor(
    message: string,
    readonly from: number,
    readonly to: number,
  ) {
    super(message);
  }
}
