import type { Cell } from '../fields/lists.ts';
import { compile } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import { cellType, readCell } from '../records/cells.ts';
import { checkCell } from '../records/check-cell.ts';
import { Model, THINGS_FROM, type Thing } from '../records/model.ts';
import { CannotBeAsked, type ValueOf } from './fill.ts';
import { isContent } from './parts.ts';
import { FILES, type ServiceRequest } from './schema.ts';

/** What the inputs of a request are given, by their ids. */
export type Inputs = Readonly<Record<string, Cell>>;

/** The inputs of a request as formulas in its places see them. */
export const inputsAtHand = (request: Pick<ServiceRequest, 'inputs'>): Thing[] =>
  request.inputs.map((i) => ({ id: i.id, name: i.name, type: cellType(i) }));

const NO_TABLES = new Model({ tables: [] });

/**
 * Works out the places of a request from what its inputs are given. `now` is what the clocks of the app show. Throws
 * {@link CannotBeAsked} where an input is missing or does not fit; so does what is given where a place is broken.
 */
export function givenTo(request: Pick<ServiceRequest, 'inputs'>, inputs: Inputs, now: () => number): ValueOf {
  const values = request.inputs.map((i): Value => {
    const cell = inputs[i.id] ?? null;
    if (cell === null || cell === '') {
      if (!i.optional) throw new CannotBeAsked(`${i.name} is missing.`, i.id);
      return null;
    }
    // A file comes with its content, which no record holds.
    if (FILES.has(i.type) && typeof cell === 'string' && isContent(cell)) return cell;
    const wrong = checkCell(i, cell);
    if (wrong) throw new CannotBeAsked(wrong, i.id);
    return readCell(i, cell);
  });
  const runtime = { stamp: {}, now, person: () => null, all: () => [] };
  const frame: Value[] = [runtime as unknown as Value, null, ...values];
  if (THINGS_FROM !== 2) throw new Error('The inputs of a request stand behind the first slots of a frame.');
  const options = NO_TABLES.optionsFor(null, inputsAtHand(request));
  const absent = new Set(request.inputs.filter((i) => inputs[i.id] === undefined).map((i) => i.id));
  return (formula) => {
    if (absent.has(formula)) return undefined;
    const compiled = compile(formula, options);
    const wrong = compiled.problems.find((p) => p.severity === 'error');
    if (wrong) throw new CannotBeAsked(`A place of the request is broken: ${wrong.message}`);
    return compiled.run(frame);
  };
}
