import { useDraggable, useDroppable } from '@dnd-kit/core';
import { clsx } from 'clsx';
import { ArrowDown, ArrowUp, Copy, Flag, GripVertical, MoreHorizontal, StickyNote, Trash2 } from 'lucide-react';
import { Fragment, useState, type ReactNode } from 'react';
import type { Routine, Step } from '../../core/app/schema.ts';
import { IF_FAILS, onlyIn, slotsIn, type Branch } from '../../core/app/steps.ts';
import type { OrderMistake } from '../../core/preflight/step-order.ts';
import type { StepTrace } from '../../core/routines/state.ts';
import { useStepping } from '../state/stepping.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Menu } from '../ui/popover.tsx';
import { Gave } from './Gave.tsx';
import { AddStep } from './AddStep.tsx';
import { StepSentence } from './StepSentence.tsx';

/** What the lines of a routine can ask for. */
export interface StepTools {
  routine: Routine;
  numbers: Map<string, number>;
  /** What each step got and gave in the run that is shown, turn by turn. */
  traces: Map<string, StepTrace[]>;
  mistakes: Map<string, OrderMistake[]>;
  ran: boolean;
  selected: readonly string[];
  select(id: string, more: boolean): void;
  add(steps: Step[], branch: Branch): void;
  set(step: Step): void;
  remove(ids: readonly string[]): void;
  copy(ids: readonly string[]): void;
  shift(ids: readonly string[], by: 1 | -1): void;
  toggleOff(ids: readonly string[]): void;
  note(id: string, words: string | null): void;
  fails(id: string, on: boolean): void;
  again(id: string, times: number): void;
  mend(mistake: OrderMistake): void;
  lift(ids: readonly string[]): void;
  inline(id: string): void;
}
export interface Dragged {
  id: string;
  over: string | null;
  isLower: boolean;
}

/** What stands for the end of a branch, among the places to drop at. */
export const endOf = (branch: Branch): string => (branch ? `end:${branch.of}:${branch.slot}` : 'end');

/** How often a step that failed is tried again. */
const TIMES = [0, 1, 2, 3, 5, 10].map((value) => ({
  value,
  label: value === 0 ? 'no more tries' : value === 1 ? 'one more try' : `${value} more tries`,
}));

export function StepList({
  steps,
  branch,
  depth,
  tools,
  dragged,
}: {
  steps: readonly Step[];
  branch: Branch;
  depth: number;
  tools: StepTools;
  dragged: Dragged | null;
}) {
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const fold = (id: string): void =>
    setFolded((now) => {
      const next = new Set(now);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  return (
    <ol>
      {steps.map((s) => {
        const slots = slotsIn(s);
        const isFolded = folded.has(s.id);
        return (
          <li key={s.id} className={clsx(s.off && 'opacity-55')}>
            <StepRow
              step={s}
              depth={depth}
              tools={tools}
              dragged={dragged}
              {...(slots.length > 0 && { fold: () => fold(s.id), isFolded })}
            />
            {!isFolded &&
              slots.map((slot) => (
                <Fragment key={slot.name}>
                  {slot.label && (
                    <div
                      className={clsx(
                        'sentence py-0.5 font-semibold',
                        slot.name === IF_FAILS ? 'text-saffron' : 'text-ink',
                      )}
                      style={{ paddingLeft: 30 + depth * 26 }}
                    >
                      {slot.label}
                      {slot.name === IF_FAILS && (
                        <span className="font-normal">
                          {', after '}
                          <ChoiceChip
                            name="Tries"
                            value={s.again ?? 0}
                            choices={TIMES}
                            onChange={(n) => tools.again(s.id, n)}
                          />
                          :
                        </span>
                      )}
                    </div>
                  )}
                  <StepList
                    steps={slot.list}
                    branch={{ of: s.id, slot: slot.name }}
                    depth={depth + 1}
                    tools={tools}
                    dragged={dragged}
                  />
                </Fragment>
              ))}
          </li>
        );
      })}
      <End branch={branch} depth={depth} isOver={dragged?.over === endOf(branch)}>
        <AddStep
          routine={tools.routine}
          only={onlyIn(tools.routine, branch)}
          branch={branch}
          add={(steps) => tools.add(steps, branch)}
        />
      </End>
    </ol>
  );
}

/** The end of a branch, where steps are added and dropped. */
function End({
  branch,
  depth,
  isOver,
  children,
}: {
  branch: Branch;
  depth: number;
  isOver: boolean;
  children: ReactNode;
}) {
  const { setNodeRef } = useDroppable({ id: endOf(branch) });
  return (
    <li
      ref={setNodeRef}
      style={{ paddingLeft: 26 + depth * 26 }}
      className={clsx('flex', isOver && 'shadow-[0_-2px_0_var(--color-persimmon)]')}
    >
      {children}
    </li>
  );
}

function StepRow({
  step,
  depth,
  tools,
  dragged,
  fold,
  isFolded = false,
}: {
  step: Step;
  depth: number;
  tools: StepTools;
  dragged: Dragged | null;
  fold?: () => void;
  isFolded?: boolean;
}) {
  const traces = tools.traces.get(step.id) ?? [];
  const isSelected = tools.selected.includes(step.id);
  const mistakes = tools.mistakes.get(step.id) ?? [];
  const { setNodeRef: setPlace } = useDroppable({ id: step.id });
  const { setNodeRef, listeners } = useDraggable({ id: step.id });
  // What is asked of one of the selected is asked of all of them.
  const ids = isSelected ? tools.selected : [step.id];
  const stops = useStepping((s) => s.stops.includes(step.id));
  const stands = useStepping((s) => s.paused?.step === step.id);
  const toggle = useStepping((s) => s.toggle);
  const isOver = dragged?.over === step.id && dragged.id !== step.id;
  const number = tools.numbers.get(step.id);
  return (
    <div
      ref={setPlace}
      data-step={step.id}
      className={clsx(
        'group relative grid grid-cols-[1fr_170px] gap-3 rounded-control py-1 hover:bg-raised/70 max-[1150px]:grid-cols-[1fr_120px]',
        isSelected && 'bg-dusk-wash hover:bg-dusk-wash',
        traces.some((t) => t.error) && 'bg-persimmon-wash/70',
        stands && 'bg-saffron-wash shadow-[inset_3px_0_0_var(--color-saffron)]',
        isOver &&
          (dragged.isLower ? 'shadow-[0_2px_0_var(--color-persimmon)]' : 'shadow-[0_-2px_0_var(--color-persimmon)]'),
      )}
    >
      <div className="flex min-w-0" style={{ paddingLeft: depth * 26 }}>
        <button
          type="button"
          ref={setNodeRef}
          {...listeners}
          aria-label={`Select step ${number ?? ''}`.trim()}
          aria-pressed={isSelected}
          onClick={(e) => tools.select(step.id, e.shiftKey)}
          className="group/grip flex w-[30px] shrink-0 cursor-grab touch-none items-start justify-end pr-2 text-ink-faint"
        >
          <GripVertical size={14} aria-hidden className="mt-[8px] hidden group-hover:block" />
          <span className="font-mono text-xs leading-[30px] group-hover:hidden">
            {stops && <Flag size={12} aria-label="Runs stop before it" className="mr-1 inline text-saffron" />}
            {number ?? ''}
          </span>
        </button>
        <div className="min-w-0 flex-1">
          <div className="sentence">
            <StepSentence step={step} routine={tools.routine} onChange={tools.set} />
            {fold && isFolded && (
              <button type="button" onClick={fold} className="ml-1 text-sm text-ink-soft underline underline-offset-2">
                folded
              </button>
            )}
          </div>
          {step.note !== undefined && <Note words={step.note} onChange={(w) => tools.note(step.id, w)} />}
          {mistakes.map((m) => (
            <p key={m.said} role="note" className="flex items-baseline gap-2 pb-0.5 text-sm text-saffron">
              <span>{m.said}</span>
              {m.mend && (
                <button
                  type="button"
                  className="font-semibold underline underline-offset-2"
                  onClick={() => tools.mend(m)}
                >
                  {m.mend.said}
                </button>
              )}
            </p>
          ))}
        </div>
      </div>
      <Gave traces={traces} ran={tools.ran} />
      <div className="absolute top-0.5 right-1 flex rounded-control border border-line bg-raised opacity-0 shadow-sm group-focus-within:opacity-100 group-hover:opacity-100">
        {(
          [
            ['Move up', ArrowUp, () => tools.shift(ids, -1)],
            ['Move down', ArrowDown, () => tools.shift(ids, 1)],
            ['Make a copy', Copy, () => tools.copy(ids)],
            ['Remove this step', Trash2, () => tools.remove(ids)],
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
        <Menu
          align="end"
          trigger={
            <button
              type="button"
              aria-label="More for this step"
              className="grid size-6 place-items-center text-ink-soft hover:text-ink"
            >
              <MoreHorizontal size={13} aria-hidden />
            </button>
          }
          items={[
            { label: step.off ? 'Switch on' : 'Switch off', hint: 'O', run: () => tools.toggleOff(ids) },
            step.ifFails
              ? { label: 'Take off “If it fails”', run: () => tools.fails(step.id, false) }
              : { label: 'If it fails …', run: () => tools.fails(step.id, true) },
            {
              label: step.note === undefined ? 'Write a note' : 'Remove the note',
              icon: StickyNote,
              run: () => tools.note(step.id, step.note === undefined ? '' : null),
            },
            { label: stops ? 'Do not stop before it' : 'Stop before it', icon: Flag, run: () => toggle(step.id) },
            ...(fold ? [{ label: isFolded ? 'Unfold' : 'Fold', run: fold }] : []),
            null,
            {
              label: ids.length > 1 ? `Make a routine of these ${ids.length}` : 'Make a routine of it',
              run: () => tools.lift(ids),
            },
            ...(step.do === 'run' ? [{ label: 'Put its steps here', run: () => tools.inline(step.id) }] : []),
          ]}
        />
      </div>
    </div>
  );
}

/** What a maker wrote beside a step. */
function Note({ words, onChange }: { words: string; onChange(words: string | null): void }) {
  return (
    <textarea
      aria-label="Note at this step"
      rows={1}
      autoFocus={words === ''}
      value={words}
      placeholder="Why it is done"
      onChange={(e) => onChange(e.target.value)}
      onBlur={() => words.trim() === '' && onChange(null)}
      className="field-sizing-content mb-1 block w-full max-w-lg resize-none rounded-md border-l-2 border-saffron bg-transparent px-2 py-0.5 text-sm text-ink-soft outline-none"
    />
  );
}
