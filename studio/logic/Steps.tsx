import { ArrowDown, ArrowUp, CirclePlus, Copy, Trash2 } from 'lucide-react';
import { clsx } from 'clsx';
import { Fragment, useMemo } from 'react';
import { moveBy } from '../../core/app/edits.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { Routine, Step, StepKind } from '../../core/app/schema.ts';
import { copyOf } from '../../core/document/walk.ts';
import type { StepTrace } from '../../core/routines/state.ts';
import { STEPS } from '../../kinds/steps/index.ts';
import { useStudio } from '../state/studio.ts';
import { useTrace } from '../state/trace.ts';
import { Menu } from '../ui/popover.tsx';
import { StepSentence } from './StepSentence.tsx';
import { branchList, findStep, numberSteps, slotsIn, type Branch } from './tree.ts';

/** The steps of a routine, each with what it last gave. */
export function Steps({ routine }: { routine: Routine }) {
  const edit = useStudio((s) => s.edit);
  const runs = useTrace((s) => s.runs);
  const numbers = useMemo(() => numberSteps(routine.steps), [routine.steps]);
  const run = runs[routine.id];
  const traces = useMemo(() => new Map(run?.steps.map((s) => [s.step, s]) ?? []), [run]);

  const change = (label: string, recipe: (r: Routine) => void, merge?: string): void =>
    void edit(
      label,
      (a) => {
        recipe(a.routines.find((r) => r.id === routine.id)! as Routine);
      },
      merge ? { merge } : {},
    );
  const tools: StepTools = {
    routine,
    numbers,
    traces,
    ran: Boolean(run),
    add: (kind, branch) =>
      change(`Added a step to ${routine.name}`, (r) => {
        branchList(r, branch).push(new ElementMaker().step(kind));
      }),
    set: (step) =>
      change(
        `Changed a step of ${routine.name}`,
        (r) => {
          const f = findStep(r.steps, step.id);
          if (f) f.list[f.at] = step;
        },
        `step-${step.id}`,
      ),
    remove: (id) =>
      change(`Removed a step of ${routine.name}`, (r) => {
        const f = findStep(r.steps, id);
        f?.list.splice(f.at, 1);
      }),
    copy: (id) =>
      change(`Copied a step of ${routine.name}`, (r) => {
        const f = findStep(r.steps, id);
        if (f) f.list.splice(f.at + 1, 0, copyOf(f.list[f.at]!));
      }),
    move: (id, by) =>
      change(`Moved a step of ${routine.name}`, (r) => {
        const f = findStep(r.steps, id);
        if (f) moveBy(f.list, f.at, by);
      }),
  };
  return (
    <div className="pb-6">
      <StepList steps={routine.steps} branch={null} depth={0} tools={tools} />
      {run?.error && !run.steps.some((s) => s.error) && <p className="mt-2 text-persimmon-deep">{run.error}</p>}
    </div>
  );
}

interface StepTools {
  routine: Routine;
  numbers: Map<string, number>;
  traces: Map<string, StepTrace>;
  ran: boolean;
  add(kind: StepKind, branch: Branch): void;
  set(step: Step): void;
  remove(id: string): void;
  copy(id: string): void;
  move(id: string, by: number): void;
}

function StepList({
  steps,
  branch,
  depth,
  tools,
}: {
  steps: readonly Step[];
  branch: Branch;
  depth: number;
  tools: StepTools;
}) {
  return (
    <ol>
      {steps.map((s) => (
        <li key={s.id}>
          <StepRow step={s} depth={depth} tools={tools} />
          {slotsIn(s).map((slot) => (
            <Fragment key={slot.name}>
              {slot.label && (
                <p className="sentence py-0.5 font-semibold text-ink" style={{ paddingLeft: 30 + depth * 26 }}>
                  {slot.label}
                </p>
              )}
              <StepList steps={slot.list} branch={{ of: s.id, slot: slot.name }} depth={depth + 1} tools={tools} />
            </Fragment>
          ))}
        </li>
      ))}
      <li style={{ paddingLeft: 26 + depth * 26 }}>
        <Menu
          trigger={
            <button
              type="button"
              className="flex h-8 items-center gap-2 rounded-control px-1.5 text-ink-soft hover:bg-sunk/70 hover:text-ink"
            >
              <CirclePlus size={15} aria-hidden /> {depth > 0 ? 'Add a step here' : 'Add a step'}
            </button>
          }
          items={STEPS.map((d) => ({ label: d.said.name, hint: d.said.hint, run: () => tools.add(d.do, branch) }))}
        />
      </li>
    </ol>
  );
}

const ms = (n: number): string => (n < 10 ? `${n.toFixed(1)} ms` : `${Math.round(n)} ms`);

function StepRow({ step, depth, tools }: { step: Step; depth: number; tools: StepTools }) {
  const trace = tools.traces.get(step.id);
  return (
    <div
      className={clsx(
        'group relative grid grid-cols-[1fr_170px] gap-3 rounded-control py-1 hover:bg-raised/70 max-[1150px]:grid-cols-[1fr_120px]',
        trace?.error && 'bg-persimmon-wash/70',
      )}
    >
      <div className="flex min-w-0" style={{ paddingLeft: depth * 26 }}>
        <span className="w-[30px] shrink-0 pr-2 text-right font-mono text-xs leading-[30px] text-ink-faint">
          {tools.numbers.get(step.id) ?? ''}
        </span>
        <div className="sentence min-w-0 flex-1">
          <StepSentence step={step} routine={tools.routine} onChange={tools.set} />
        </div>
      </div>
      <div className="pl-2 text-sm leading-[30px]">
        {trace ? (
          <span
            className={clsx('line-clamp-2 leading-[18px] pt-1.5', trace.error ? 'text-persimmon-deep' : 'text-kelp')}
            title={trace.error ?? trace.said}
          >
            {trace.error ?? trace.gave} <span className="font-mono text-xs text-ink-faint">{ms(trace.ms)}</span>
          </span>
        ) : tools.ran ? (
          <span className="text-ink-faint">not reached</span>
        ) : null}
      </div>
      <div className="absolute top-0.5 right-1 flex rounded-control border border-line bg-raised opacity-0 shadow-sm group-focus-within:opacity-100 group-hover:opacity-100">
        {(
          [
            ['Move up', ArrowUp, () => tools.move(step.id, -1)],
            ['Move down', ArrowDown, () => tools.move(step.id, 1)],
            ['Make a copy', Copy, () => tools.copy(step.id)],
            ['Remove this step', Trash2, () => tools.remove(step.id)],
          ] as const
        ).map(([label, Icon, run]) => (
          <button
            key={label}
            type="button"
            aria-label={label}
            title={label}
            onClick={run}
            className="grid size-6 place-items-center text-ink-soft hover:text-ink"
          >
            <Icon size={13} aria-hidden />
          </button>
        ))}
      </div>
    </div>
  );
}
