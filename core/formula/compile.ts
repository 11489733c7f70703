import { FormulaError, type Node, type Problem } from './ast.ts';
import { builtins, type Runtime } from './builtins/index.ts';
import { compileCall } from './calls.ts';
import { compileBinary, compileIn } from './compile-operators.ts';
import { guarded } from './guarded.ts';
import { compileContext, compileFilter } from './inner-scopes.ts';
import type { Compiling, Piece } from './compiling.ts';
import { compileFor, compileFunction, compileQuantified } from './loops.ts';
import { entryKey, isAnyOf, memberType } from './checking.ts';
import { constantRun } from './closures.ts';
import { late } from './late.ts';
import { and, negate, test } from './operators.ts';
import { namesInScope } from './names-in-scope.ts';
import { parse } from './parse.ts';
import { readPath, pathType } from './path.ts';
import type { Side } from './plan.ts';
import { kept, ReadsFollowed, slotId, slotInput, WORLD, type Reads } from './reads.ts';
import { NO_SHAPES, type Scope, type Dependency, type Name, type Origin, type Shapes } from './scope.ts';
import { parseTemporal } from './temporal.ts';
import {
  ANY,
  BOOLEAN,
  DATE,
  DATETIME,
  DAYS,
  MONTHS,
  NULL,
  NUMBER,
  TEXT,
  TIME,
  listOf,
  typeText,
  union,
  type Type,
} from './types.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  FunctionValue,
  MonthsDuration,
  Range,
  compare,
  RecordValue,
  isContext,
} from './values.ts';
import type { Compiled, CompileOptions } from './compiled.ts';

export type { Run } from './closures.ts';
export type { Compiled, CompileOptions } from './compiled.ts';

/** Compiles FEEL text to a closure. Never throws for a bad formula: it then always gives null, and problems say why. */
export function compile(text: string, options: CompileOptions = {}): Compiled {
  const shapes = options.shapes ?? NO_SHAPES;
  const known = options.known ?? namesInScope(options.names ?? [], shapes);
  let tree: Node;
  try {
    tree = parse(text, known.index);
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    return {
      type: ANY,
      run: () => null,
      references: [],
      dependencies: [],
      volatile: false,
      problems: [{ message: e.message, from: e.from, to: e.to, severity: 'error' }],
    };
  }
  const c = new Compiler(shapes, options.firstSlot ?? 1);
  const piece = c.node(tree, known.scope);
  return {
    type: piece.type,
    run: guarded(piece.run, c.problems),
    problems: c.problems,
    references: c.references,
    dependencies: c.dependencies,
    volatile: c.volatile,
  };
}

/** One link further along. */
const further = (origin: Origin, hop: string): Origin =>
  origin.from === 'table' ? origin : { ...origin, hops: [...origin.hops, hop] };

const LITERAL_TYPES = { boolean: BOOLEAN, number: NUMBER, string: TEXT } as const;

class Compiler implements Compiling {
  readonly problems: Problem[] = [];
  readonly references: { from: number; to: number; id: string }[] = [];
  readonly dependencies: Dependency[] = [];
  volatile = false;

  constructor(
    private readonly shapes: Shapes,
    private next: number,
  ) {}

  problem(node: { from: number; to: number }, message: string, severity: Problem['severity'] = 'error'): void {
    this.problems.push({ message, from: node.from, to: node.to, severity });
  }

  takeSlot(): number {
    return this.next++;
  }

  giveSlots(count: number): void {
    for (; count > 0; count--) this.follows.leave(slotId(--this.next));
  }

  markVolatile(name: string): void {
    this.volatile = true;
    this.follows.note(WORLD[name] && [WORLD[name]]);
  }

  private readonly follows = new ReadsFollowed();
  private readonly comparisons = new WeakMap<Node, { left: Side; right: Side }>();

  within<T>(work: () => T): [T, Reads] {
    return this.follows.within(work);
  }

  readsOnly(reads: Reads): void {
    this.follows.only(reads);
  }

  inLoop<T>(slots: readonly number[], work: () => T): T {
    return this.follows.inLoop(slots, work);
  }

  compared(n: Node, sides: { left: Side; right: Side }): void {
    this.comparisons.set(n, sides);
  }

  sides(n: Node): { left: Side; right: Side } | undefined {
    return this.comparisons.get(n);
  }

  /** A part that goes through many records is worked out no more often than what it reads changes. */
  private kept(work: () => Piece, isMany: () => boolean = () => true): Piece {
    const [piece, reads] = this.within(work);
    return isMany() ? { ...piece, run: kept(piece.run, reads, this.follows.around) } : piece;
  }

  node(n: Node, scope: Scope): Piece {
    switch (n.t) {
      case 'literal': {
        const { value } = n;
        return { type: value === null ? NULL : LITERAL_TYPES[typeof value as 'string'], run: constantRun(value) };
      }
      case 'at':
        return this.at(n);
      case 'name':
        return this.name(n, scope);
      case 'unary': {
        const of = this.node(n.of, scope);
        return { type: of.type, run: (f) => negate(of.run(f)) };
      }
      case 'binary':
        return compileBinary(this, n, scope);
      case 'between': {
        const [of, low, high] = [this.node(n.of, scope).run, this.node(n.low, scope).run, this.node(n.high, scope).run];
        return {
          type: BOOLEAN,
          run: (f) => {
            const v = of(f);
            return and(test('>=', v, low(f)), test('<=', v, high(f)));
          },
        };
      }
      case 'in':
        return compileIn(this, n.of, n.tests, scope);
      case 'instance': {
        const of = this.node(n.of, scope).run;
        return { type: BOOLEAN, run: (f) => late.instanceOf(of(f), n.type) };
      }
      case 'path':
        return this.path(n, scope);
      case 'filter':
        return this.kept(() => compileFilter(this, this.shapes, n, scope));
      case 'call':
        return this.call(n, scope);
      case 'list': {
        const items = n.items.map((i) => this.node(i, scope));
        const runs = items.map((i) => i.run);
        return {
          type: listOf(items.reduce<Type>((t, i) => union(t, i.type), NULL)),
          run: (f) => runs.map((r) => r(f)),
        };
      }
      case 'context':
        return compileContext(this, n, scope);
      case 'range': {
        const [a, b] = [this.node(n.start, scope), this.node(n.end, scope)];
        const { startIncluded, endIncluded } = n;
        return {
          type: { k: 'range', of: union(a.type, b.type) },
          run: (f) => {
            const [start, end] = [a.run(f), b.run(f)];
            if (start !== null && end !== null && compare(start, end) === null) return null;
            return new Range(start, end, startIncluded, endIncluded);
          },
        };
      }
      case 'if': {
        const [c, a, b] = [this.node(n.test, scope), this.node(n.then, scope), this.node(n.otherwise, scope)];
        if (!isAnyOf(c.type, ['boolean', 'any', 'null']))
          this.problem(
            n.test,
            `The condition is a ${typeText(c.type)}, so “else” is always taken. Compare it with something.`,
            'warning',
          );
        const [test, then, otherwise] = [c.run, a.run, b.run];
        return {
          type: union(a.type, b.type),
          run: (f) => (test(f) === true ? then(f) : otherwise(f)),
          origin: a.origin ?? b.origin,
        };
      }
      case 'for':
        return compileFor(this, n, scope);
      case 'quantified':
        return compileQuantified(this, n, scope);
      case 'function':
        return compileFunction(this, n, scope);
    }
  }

  private at(n: Node & { t: 'at' }): Piece {
    const value = parseTemporal(n.text);
    if (value === null)
      this.problem(
        n,
        `“${n.text}” is not a date, time or duration. Write it like @"2026-11-23", @"15:58:00" or @"P3D".`,
      );
    const type =
      value instanceof CalendarDate
        ? DATE
        : value instanceof DateTime
          ? DATETIME
          : value instanceof ClockTime
            ? TIME
            : value instanceof DaysDuration
              ? DAYS
              : value instanceof MonthsDuration
                ? MONTHS
                : NULL;
    return { type, run: () => value };
  }

  private reads(name: { field?: Name['field'] }, origin: Origin | undefined): void {
    if (!name.field) return;
    this.dependencies.push({
      table: name.field.table,
      field: name.field.id,
      origin: origin ?? { from: 'table', table: name.field.table },
    });
  }

  private name(n: Node & { t: 'name' }, scope: Scope): Piece {
    const found = scope.find(n.name);
    const open = scope.openSlots(n.name);
    if (found) {
      if (found.id) this.references.push({ from: n.from, to: n.from + n.name.length, id: found.id });
      this.reads(found, found.origin);
    } else if (open.length === 0) {
      const builtin = builtins().get(n.name);
      if (builtin) {
        this.follows.note(undefined);
        return {
          type: { k: 'function', returns: ANY },
          run: (f) =>
            new FunctionValue(
              builtin.params.map((p) => p.name),
              (args) => builtin.call(args, f[0] as unknown as Runtime),
            ),
        };
      }
      const near = late.nearest(n.name, [...scope.all().map((x) => x.name), ...builtins().keys()]);
      this.problem(n, `There is nothing called “${n.name}” here.${near ? ` Did you mean “${near}”?` : ''}`);
      return { type: NULL, run: () => null };
    }
    this.follows.note(open.map(slotInput));
    if (found) this.follows.note(found.inputs);
    const outer = found?.read ?? (() => null);
    if (open.length === 0) {
      const links = found!.type.k === 'record' || (found!.type.k === 'list' && found!.type.of.k === 'record');
      const origin = links && found!.field && found!.origin ? further(found!.origin, found!.field.id) : found!.origin;
      return { type: found!.type, run: outer, ...(origin && { origin }) };
    }
    const { name } = n;
    return {
      type: ANY,
      run: (f) => {
        for (const slot of open) {
          const item = f[slot]!;
          if (isContext(item) && Object.hasOwn(item, name)) return item[name]!;
          if (item instanceof RecordValue) return item.get(name);
        }
        return outer(f);
      },
    };
  }

  private path(n: Node & { t: 'path' }, scope: Scope): Piece {
    let isMany = false;
    return this.kept(
      () => {
        const of = this.node(n.of, scope);
        isMany = of.type.k === 'list';
        return this.pathOf(n, of);
      },
      () => isMany,
    );
  }

  private pathOf(n: Node & { t: 'path' }, of: Piece): Piece {
    const run = of.run;
    const { name } = n;
    const inner = of.type.k === 'list' ? of.type.of : of.type;
    if (inner.k === 'record') {
      const member = this.shapes.member(inner.table, name);
      if (member) {
        const origin = of.origin ?? { from: 'table' as const, table: inner.table };
        this.references.push({ from: n.nameFrom, to: n.nameFrom + name.length, id: member.id });
        this.reads({ field: { table: inner.table, id: member.id } }, origin);
        const links = member.type.k === 'record' || (member.type.k === 'list' && member.type.of.k === 'record');
        return {
          type: pathType(of.type, member.type),
          run: readPath(run, of.type, member),
          ...(of.planned &&
            !of.planned.of &&
            member.type.k !== 'list' && {
              planned: { ...of.planned, of: (item) => (item ? member.get(item as RecordValue) : null) },
            }),
          origin: links && origin.from !== 'table' ? further(origin, member.id) : undefined,
        };
      }
      const near = late.nearest(
        name,
        this.shapes.members(inner.table).map((m) => m.name),
      );
      this.problem(
        { from: n.nameFrom, to: n.to },
        `There is no field “${name}” there.${near ? ` Did you mean “${near}”?` : ''}`,
      );
      return { type: NULL, run: () => null };
    }
    const type = memberType(inner, name);
    if (!type)
      this.problem({ from: n.nameFrom, to: n.to }, `A ${typeText(inner)} has nothing called “${name}”.`, 'warning');
    const key = entryKey(inner, name) ?? name;
    if ('names' in inner && inner.names?.[key])
      this.references.push({ from: n.nameFrom, to: n.nameFrom + name.length, id: key });
    return { type: of.type.k === 'list' ? listOf(type ?? ANY) : (type ?? NULL), run: readPath(run, of.type, key) };
  }

  private call(n: Node & { t: 'call' }, scope: Scope): Piece {
    let isMany = false;
    return this.kept(
      () => {
        const args = n.args.map((a) => this.node(a, scope));
        isMany = args.some((a) => a.type.k === 'list');
        return this.called(n, args, scope);
      },
      () => isMany,
    );
  }

  private called(n: Node & { t: 'call' }, args: Piece[], scope: Scope): Piece {
    if (n.of.t === 'name' && !scope.find(n.of.name)) return compileCall(this, n, n.of.name, args);
    const fn = this.node(n.of, scope);
    const runs = args.map((a) => a.run);
    const { named } = n;
    return {
      type: fn.type.k === 'function' ? fn.type.returns : ANY,
      run: (f) => {
        const called = fn.run(f);
        if (!(called instanceof FunctionValue)) return null;
        const values = runs.map((r) => r(f));
        if (!named) return values.length === called.params.length ? called.call(values) : null;
        if (named.some((k) => !called.params.includes(k))) return null;
        return called.call(
          called.params.map((p) => {
            const i = named.indexOf(p);
            return i < 0 ? null : values[i]!;
          }),
        );
      },
    };
  }
}
