import { useEffect, useRef, useState } from 'react';
import type { Cell } from '../core/fields/lists.ts';
import type { Drawn } from '../core/screens/element.ts';
import { useForm, usePlayer } from './context.ts';
import type { input } from '../kinds/elements/input/definition.ts';

/** What an input shows and how it is changed, wherever what is filled in goes. */
export interface Bound {
  value: Cell;
  problem: string | null;
  set(cell: Cell): void;
  /** What is typed is written now, not after a pause. */
  flush(): void;
}

/** Into a record is written when the typing pauses for so long, or the input is left. */
const PAUSE_MS = 600;

/** What was typed here, and the cell that came of it once it was taken. */
interface Typed {
  cell: Cell;
  became?: Cell;
  seen?: boolean;
}

/**
 * Binds an input to a form, a variable or the record at hand. What is typed stands as it was typed, "1." as much as "1",
 * until the value becomes another by something else.
 */
export function useBound(e: Drawn<typeof input>): Bound {
  const form = useForm();
  const { api } = usePlayer();
  const [typed, setTyped] = useState<Typed | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const pause = useRef<{ timer: ReturnType<typeof setTimeout>; write(): void } | null>(null);
  const turn = useRef(0);

  useEffect(() => {
    if (typed?.became === undefined) return;
    // A letter may have been typed between the drawing that this follows and now: it stays.
    const become = (next: Typed | null): void => setTyped((now) => (now === typed ? next : now));
    if (e.cell === typed.became) {
      if (!typed.seen) become({ ...typed, seen: true });
    } else if (typed.seen) become(null);
  }, [e.cell, typed]);

  const flush = (): void => {
    const waiting = pause.current;
    pause.current = null;
    if (!waiting) return;
    clearTimeout(waiting.timer);
    waiting.write();
  };
  useEffect(() => flush, [e.record, e.field]);

  if (e.into === 'form' && form)
    return {
      value: form.values[e.field] ?? null,
      problem: form.problems[e.field] ?? null,
      set: (cell) => form.set(e.field, cell),
      flush,
    };
  const took = (mine: number, cell: Cell, answer: { problem: string } | { cell: Cell }): void => {
    if (mine !== turn.current) return;
    setProblem('problem' in answer ? answer.problem : null);
    if ('cell' in answer) setTyped({ cell, became: answer.cell });
  };
  const write = (cell: Cell): void => {
    const mine = ++turn.current;
    const failed = (error: Error): void => took(mine, cell, { problem: error.message });
    if (e.into === 'variable') api.typed(e.field, cell).then((answer) => took(mine, cell, answer), failed);
    else
      api.saveForm(e.table, e.record, { [e.field]: cell }, true).then((answer) => {
        const problems = 'problems' in answer ? Object.values(answer.problems) : [];
        took(mine, cell, problems.length ? { problem: problems[0]! } : { cell });
      }, failed);
  };
  return {
    value: typed ? typed.cell : e.cell,
    problem,
    set(cell) {
      setTyped({ cell });
      if (pause.current) clearTimeout(pause.current.timer);
      pause.current = null;
      if (e.into === 'variable' || typeof cell !== 'string') return write(cell);
      const go = (): void => write(cell);
      pause.current = { write: go, timer: setTimeout(flush, PAUSE_MS) };
    },
    flush,
  };
}
