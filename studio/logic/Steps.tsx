import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { clipOfSteps, readClip, stepsFrom } from '../../core/app/clip.ts';
import type { App, Routine, Step } from '../../core/app/schema.ts';
import {
  branchList,
  duplicateSteps,
  findStep,
  gapsIn,
  insertSteps,
  moveSteps,
  numberSteps,
  removeSteps,
  setIfFails,
  shiftSteps,
  topSteps,
  type Gap,
} from '../../core/app/steps.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import { lostMoves } from '../../core/preflight/lost-moves.ts';
import { orderMistakes } from '../../core/preflight/step-order.ts';
import type { RunTrace } from '../../core/routines/run.ts';
import type { StepTrace } from '../../core/routines/state.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { useModel } from '../state/model.ts';
import { isFree } from '../ui/keys.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { DragArea } from '../ui/drag.tsx';
import { StepList, type StepTools } from './StepList.tsx';

const byTurns = (a: readonly number[], b: readonly number[]): number => {
  const at = a.findIndex((turn, i) => turn !== b[i]);
  return at < 0 || at >= b.length ? 0 : a[at]! - b[at]!;
};

/** The steps of a routine, each with what it gave in one of its runs; moved, copied and changed by mouse and by keys. */
export function Steps({ routine, run }: { routine: Routine; run: RunTrace | undefined }) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const [selected, setSelected] = useState<readonly string[]>([]);
  const numbers = useMemo(() => numberSteps(routine.steps), [routine.steps]);
  const traces = useMemo(() => {
    const by = new Map<string, StepTrace[]>();
    for (const s of run?.steps ?? [])
      if (by.has(s.step)) by.get(s.step)!.push(s);
      else by.set(s.step, [s]);
    // Turns that were under way at once did not tell in their order.
    for (const told of by.values()) told.sort((a, b) => byTurns(a.turns, b.turns));
    return by;
  }, [run]);
  const mistakes = useMemo(() => {
    const by = new Map<string, ReturnType<typeof orderMistakes>>();
    const all = [...orderMistakes(routine, model.nameOf), ...lostMoves(routine.steps, (id) => model.field(id))];
    for (const m of all) by.set(m.step, [...(by.get(m.step) ?? []), m]);
    return by;
  }, [routine, model]);
  const there = selected.filter((id) => findStep(routine.steps, id));

  const change = (label: string, recipe: (r: Routine, a: App) => void, merge?: string): Promise<void> =>
    edit(
      label,
      (a) => {
        recipe(a.routines.find((r) => r.id === routine.id)! as Routine, a as App);
      },
      merge ? { merge } : {},
    );
  const many = (ids: readonly string[], one = 'a step'): string => (ids.length > 1 ? `${ids.length} steps` : one);
  const one = (id: string, words: string, recipe: (s: Step) => void, merge?: string): void =>
    void change(
      `${words} of ${routine.name}`,
      (r) => {
        const f = findStep(r.steps, id);
        if (f) recipe(f.list[f.at]!);
      },
      merge,
    );
  const tools: StepTools = {
    routine,
    numbers,
    traces,
    mistakes,
    ran: Boolean(run),
    selected: there,
    select: (id, more) =>
      setSelected((now) =>
        more
          ? now.includes(id)
            ? now.filter((x) => x !== id)
            : [...now, id]
          : now.length === 1 && now[0] === id
            ? []
            : [id],
      ),
    add: (steps, branch) =>
      void change(`Added ${steps.length === 1 ? 'a step' : `${steps.length} steps`} to ${routine.name}`, (r) => {
        branchList(r, branch).push(...steps);
      }),
    set: (step) =>
      void change(
        `Changed a step of ${routine.name}`,
        (r) => {
          const f = findStep(r.steps, step.id);
          if (f) f.list[f.at] = step;
        },
        `step-${step.id}`,
      ),
    remove: (ids) => {
      void change(`Removed ${many(ids)} of ${routine.name}`, (r) => removeSteps(r, ids));
      setSelected([]);
    },
    copy: (ids) => void change(`Copied ${many(ids)} of ${routine.name}`, (r) => void duplicateSteps(r, ids)),
    shift: (ids, by) => void change(`Moved ${many(ids)} of ${routine.name}`, (r) => void shiftSteps(r, ids, by)),
    toggleOff: (ids) =>
      void change(`Switched ${many(ids)} of ${routine.name} off or on`, (r) => {
        for (const id of ids) {
          const f = findStep(r.steps, id);
          const s = f?.list[f.at];
          if (s?.off) delete s.off;
          else if (s) s.off = true;
        }
      }),
    note: (id, words) =>
      one(
        id,
        'Wrote a note at a step',
        (s) => {
          if (words === null) delete s.note;
          else s.note = words;
        },
        `note-${id}`,
      ),
    fails: (id, on) =>
      one(id, on ? 'Said what happens if a step fails' : 'Took off “If it fails”', (s) => setIfFails(s, on)),
    again: (id, times) =>
      one(id, 'Changed how often a step is tried', (s) => {
        if (times) s.again = times;
        else delete s.again;
      }),
    mend: (m) => m.mend && void change(`${m.mend.said}, in ${routine.name}`, (r) => m.mend!.do(r)),
    lift: (ids) => void lift(ids),
    inline: (id) => void inline(id),
  };

  /** Makes a routine of some steps, and runs it where they stood. */
  const lift = async (ids: readonly string[]): Promise<void> => {
    const { extractRoutine } = await import('../../core/app/extract-routine.ts');
    const things = thingsInRoutine(stepKinds, model, routine);
    let said = '';
    await change(`Made a routine of ${many(ids)}`, (r, a) => {
      said = extractRoutine(a, r, ids, things) ?? '';
    });
    setSelected([]);
    if (said) toast(said);
  };
  /** Puts the steps of a routine where a step runs it. */
  const inline = async (id: string): Promise<void> => {
    const { inlineSteps } = await import('../../core/app/extract-routine.ts');
    let said = '';
    await change(`Put the steps of a routine into ${routine.name}`, (r, a) => {
      said = inlineSteps(a, r, id) ?? '';
    });
    setSelected([]);
    if (said) toast(said);
  };

  // Keys, and the clipboard.
  useEffect(() => {
    const copy = (e: ClipboardEvent, cut: boolean): void => {
      if (!isFree(e) || String(getSelection() ?? '') || there.length === 0) return;
      e.preventDefault();
      e.clipboardData?.setData('text/plain', JSON.stringify(clipOfSteps(app, topSteps(routine.steps, there))));
      if (cut) tools.remove(there);
      else toast(`Copied ${many(there, 'the step')}.`);
    };
    const onCopy = (e: ClipboardEvent): void => copy(e, false);
    const onCut = (e: ClipboardEvent): void => copy(e, true);
    const onPaste = (e: ClipboardEvent): void => {
      if (!isFree(e)) return;
      const text = e.clipboardData?.getData('text/plain') ?? '';
      try {
        const clip = text ? readClip(text) : null;
        if (!clip?.steps?.length) {
          if (text) toast('There are no steps on the clipboard.');
          return;
        }
        e.preventDefault();
        let lost: string[] = [];
        let put: string[] = [];
        void change(`Pasted ${many(clip.steps.map((s) => s.id))} into ${routine.name}`, (r, a) => {
          const arrived = stepsFrom(a, clip);
          lost = arrived.lost;
          put = insertSteps(r, arrived.things, behind(r, there.at(-1)));
        }).then(() => {
          setSelected(put);
          if (lost.length) toast(`This app has not ${lost.join(', ')}. What goes by it waits for a choice.`);
          if (put.length === 0) toast('These steps do not fit here.');
        });
      } catch (error) {
        toast.error((error as Error).message);
      }
    };
    const onKey = (e: KeyboardEvent): void => {
      if (!isFree(e) || e.ctrlKey || e.metaKey || there.length === 0) return;
      const does =
        e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown')
          ? () => tools.shift(there, e.key === 'ArrowUp' ? -1 : 1)
          : e.altKey
            ? null
            : ({
                Delete: () => tools.remove(there),
                d: () => tools.copy(there),
                o: () => tools.toggleOff(there),
                Escape: () => setSelected([]),
              }[e.key] ?? null);
      if (!does) return;
      e.preventDefault();
      does();
    };
    document.addEventListener('copy', onCopy);
    document.addEventListener('cut', onCut);
    document.addEventListener('paste', onPaste);
    addEventListener('keydown', onKey);
    return () => {
      document.removeEventListener('copy', onCopy);
      document.removeEventListener('cut', onCut);
      document.removeEventListener('paste', onPaste);
      removeEventListener('keydown', onKey);
    };
  });

  return (
    <div className="pb-6">
      <DragArea
        onDrop={({ id, over, share }) => {
          const ids = there.includes(id) ? there : [id];
          const gap = over && gapAt(routine, over, share.y);
          if (!gap) return;
          void change(`Moved ${many(ids)} of ${routine.name}`, (r) => {
            if (!moveSteps(r, ids, gap)) toast('They cannot stand there.');
          });
        }}
      >
        {(at) => (
          <StepList
            steps={routine.steps}
            branch={null}
            depth={0}
            tools={tools}
            dragged={at && { id: at.id, over: at.over, isLower: at.share.y > 0.5 }}
          />
        )}
      </DragArea>
      {run?.error && !run.steps.some((s) => s.error) && <p className="mt-2 text-persimmon-deep">{run.error}</p>}
    </div>
  );
}

/** Behind a step, or at the end of the routine. */
function behind(routine: Routine, id: string | undefined): Gap {
  const f = id ? findStep(routine.steps, id) : null;
  const at = gapsIn(routine.steps, new Set()).find((g) => f && branchList(routine, g.branch) === f.list);
  return f && at ? { branch: at.branch, at: f.at + 1 } : { branch: null, at: routine.steps.length };
}

/** The gap at a place to drop: before or behind a step, or the end of a branch. */
function gapAt(routine: Routine, over: string, share: number): Gap | null {
  if (over.startsWith('end')) {
    const [, of, slot] = over.split(':');
    const branch = of && slot ? { of, slot } : null;
    return { branch, at: branchList(routine, branch).length };
  }
  const f = findStep(routine.steps, over);
  if (!f) return null;
  const gap = gapsIn(routine.steps, new Set()).find((g) => branchList(routine, g.branch) === f.list);
  return gap ? { branch: gap.branch, at: f.at + (share > 0.5 ? 1 : 0) } : null;
}
