import type { Step } from '../app/schema.ts';
import { findStep, slotsIn } from '../app/steps.ts';
import type { FieldValue } from '../document/pieces.ts';
import type { Node } from '../formula/ast.ts';
import { parse } from '../formula/parse.ts';
import { canRaise } from '../records/raise.ts';
import type { Field } from '../tables/schema.ts';
import type { OrderMistake } from './step-order.ts';

/** What is added to a field that is set to itself and something more; `lower` where it is taken away. */
interface Move {
  how: 'raise' | 'lower';
  amount: string;
}

/**
 * Reads a stored formula that sets a field to its own value and something more, such as "this stock.Quantity + 5". Null
 * for any other formula. `own` is the field's own value, as a stored formula.
 */
export function moveIn(formula: string, own: string): Move | null {
  let tree: Node;
  try {
    tree = parse(formula);
  } catch {
    return null;
  }
  const terms = termsOf(tree, formula);
  const self = terms.findIndex((t) => t.text === own && t.sign === '+');
  const rest = terms.filter((_, i) => i !== self);
  if (self < 0 || rest.length === 0 || rest.some((t) => t.text.includes(own))) return null;
  const [first, ...more] = rest as [Term, ...Term[]];
  const how = first.sign === '+' ? 'raise' : 'lower';
  // What is taken away more is added to the amount that is taken away.
  const sign = (t: Term): string => ((t.sign === '+') === (how === 'raise') ? '+' : '-');
  return { how, amount: [first.text, ...more.map((t) => `${sign(t)} ${t.text}`)].join(' ') };
}

interface Term {
  sign: '+' | '-';
  text: string;
}

/** The terms of a sum, from left to right. */
function termsOf(node: Node, formula: string): Term[] {
  const textOf = (n: Node): string => formula.slice(n.from, n.to).trim();
  if (node.t !== 'binary' || (node.op !== '+' && node.op !== '-')) return [{ sign: '+', text: textOf(node) }];
  return [...termsOf(node.left, formula), { sign: node.op, text: textOf(node.right) }];
}

/** The step that adds an amount, in place of one that sets a field to its own value and something more; null for others. */
export function raiseInstead(step: Step, fieldOf: (id: string) => Field | undefined): Step | null {
  if (step.do !== 'set' || !step.record || step.values.length !== 1) return null;
  const [value] = step.values as [FieldValue];
  const field = fieldOf(value.field);
  const move = field && canRaise(field) ? moveIn(value.value, `${step.record}.${value.field}`) : null;
  if (!move) return null;
  const { id, note, off, again, ifFails, reason } = step;
  const kept = Object.fromEntries(
    Object.entries({ note, off, again, ifFails, reason }).filter(([, v]) => v !== undefined),
  );
  const values = [{ field: value.field, value: move.amount }];
  return { id, do: 'raise', how: move.how, record: step.record, values, ...kept } as Step;
}

/** Steps that set a number to itself and something more: what two phones add at the same time would be lost. */
export function lostMoves(steps: readonly Step[], fieldOf: (id: string) => Field | undefined): OrderMistake[] {
  return steps.flatMap((step): OrderMistake[] => {
    const inner = slotsIn(step).flatMap((slot) => lostMoves(slot.list, fieldOf));
    if (step.off) return inner;
    const instead = raiseInstead(step, fieldOf);
    const field = step.do === 'set' ? fieldOf(step.values[0]?.field ?? '') : undefined;
    if (!instead || !field) return inner;
    const mistake: OrderMistake = {
      step: step.id,
      said: `When two phones do this at the same time, one change of ${field.name} is lost.`,
      mend: {
        said: instead.do === 'raise' && instead.how === 'lower' ? 'Lower it by the amount' : 'Raise it by the amount',
        do(routine) {
          const found = findStep(routine.steps, step.id);
          if (found) found.list[found.at] = instead;
        },
      },
    };
    return [mistake, ...inner];
  });
}
