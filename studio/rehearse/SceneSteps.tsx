import { useDraggable, useDroppable } from '@dnd-kit/core';
import { clsx } from 'clsx';
import {
  ArrowDown,
  ArrowUp,
  Check,
  CircleX,
  Copy,
  Eye,
  GripVertical,
  MoreHorizontal,
  Plus,
  StickyNote,
  TextQuote,
  Trash2,
} from 'lucide-react';
import {
  copySteps,
  groupSteps,
  isExpect,
  moveSteps,
  partOf,
  removeSteps,
  shiftSteps,
  stepNumber,
} from '../../core/app/scene-edits.ts';
import type { App } from '../../core/app/schema.ts';
import type { Scene, SceneStep } from '../../core/app/scene-schema.ts';
import type { StepResult } from '../../core/scenes/result.ts';
import { sentence } from '../../core/scenes/sentence.ts';
import { DragArea, type DragAt } from '../ui/drag.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu } from '../ui/popover.tsx';
import { NEW_STEPS } from './new-steps.ts';
import { Sentence } from './Sentence.tsx';
import type { EditScene } from './edit-scene.ts';
import { StepEditor } from './StepEditor.tsx';
import { StepPicture } from './StepPicture.tsx';

interface Props {
  app: App;
  scene: Scene;
  results: ReadonlyMap<string, StepResult>;
  selected: readonly string[];
  select(ids: readonly string[]): void;
  change: EditScene;
  /** The playing whose pictures are shown; 0 before the first. */
  nth: number;
  /** The ids that records have now, by those of the recording. */
  ids: Readonly<Record<string, string>>;
}

/** The steps of a scene as sentences, each with the small picture of then. */
export function SceneSteps(props: Props) {
  const { app, scene, selected, select, change } = props;
  const idsFor = (id: string): readonly string[] => (selected.includes(id) ? selected : partOf(scene, id));
  const keys = (e: React.KeyboardEvent): void => {
    if ((e.target as HTMLElement).closest('input, textarea, [role=menu]')) return;
    const at = scene.steps.findIndex((s) => s.id === selected.at(-1));
    const go = (to: number): void => {
      const step = scene.steps[Math.max(0, Math.min(scene.steps.length - 1, to))];
      if (!step) return;
      e.preventDefault();
      select([step.id]);
      document.querySelector<HTMLElement>(`[data-scene-step="${step.id}"] [data-select]`)?.focus();
    };
    if (e.key === 'ArrowDown' && e.altKey) change('Moved a step', (s) => shiftSteps(s, selected, 1));
    else if (e.key === 'ArrowUp' && e.altKey) change('Moved a step', (s) => shiftSteps(s, selected, -1));
    else if (e.key === 'ArrowDown') go(at + 1);
    else if (e.key === 'ArrowUp') go(at - 1);
    else if ((e.key === 'Delete' || e.key === 'Backspace') && selected.length)
      change(removedWords(selected.length), (s) => removeSteps(s, selected));
  };
  return (
    <div onKeyDown={keys}>
      <DragArea
        keys
        nameOf={(id) => {
          const number = stepNumber(scene, id);
          return number === 0 ? 'the end' : `step ${number}`;
        }}
        onDrop={({ id, over, share }) => {
          if (over === null || over === id) return;
          const ids = idsFor(id);
          const at = scene.steps.findIndex((s) => s.id === over);
          const before = over === 'end' ? null : share.y > 0.5 ? (scene.steps[at + 1]?.id ?? null) : over;
          change('Moved a step', (s) => moveSteps(s, ids, before));
        }}
      >
        {(at) => (
          <ol>
            {scene.steps.map((s) => (
              <StepLine
                key={s.id}
                {...props}
                step={s}
                number={stepNumber(scene, s.id)}
                dragged={at}
                of={idsFor(s.id)}
              />
            ))}
            <End isOver={at?.over === 'end'}>
              <AddStep app={app} scene={scene} change={change} select={select} after={selected.at(-1) ?? null} />
            </End>
          </ol>
        )}
      </DragArea>
    </div>
  );
}

const removedWords = (n: number): string => (n === 1 ? 'Removed a step' : `Removed ${n} steps`);

function End({ isOver, children }: { isOver: boolean; children: React.ReactNode }) {
  const { setNodeRef } = useDroppable({ id: 'end' });
  return (
    <li ref={setNodeRef} className={clsx('pt-1 pl-[30px]', isOver && 'shadow-[0_-2px_0_var(--color-persimmon)]')}>
      {children}
    </li>
  );
}

function AddStep({
  app,
  scene,
  change,
  select,
  after,
}: Pick<Props, 'app' | 'scene' | 'change' | 'select'> & { after: string | null }) {
  const offered = NEW_STEPS(app, scene);
  return (
    <Menu
      trigger={
        <button
          type="button"
          className="flex h-7 items-center gap-1.5 rounded-control px-2 text-sm font-semibold text-ink-soft hover:bg-sunk"
        >
          <Plus size={14} aria-hidden />
          Add a step
        </button>
      }
      items={offered.map(({ label, make }) => ({
        label,
        run: () => {
          const step = make();
          change('Added a step', (s) => {
            const at = after === null ? -1 : s.steps.findIndex((x) => x.id === after);
            s.steps.splice(at < 0 ? s.steps.length : at + 1, 0, step);
          });
          select([step.id]);
        },
      }))}
    />
  );
}

function StepLine({
  app,
  scene,
  results,
  selected,
  select,
  change,
  nth,
  step,
  number,
  dragged,
  ids: idsNow,
  of: ids,
}: Props & {
  step: SceneStep;
  number: number;
  dragged: DragAt | null;
  /** The steps that are meant with it. */
  of: readonly string[];
}) {
  const { setNodeRef: setPlace } = useDroppable({ id: step.id });
  const { setNodeRef, listeners } = useDraggable({ id: step.id });
  const result = results.get(step.id);
  const isSelected = selected.includes(step.id);
  const isOver = dragged?.over === step.id && dragged.id !== step.id;
  const isLower = (dragged?.share.y ?? 0) > 0.5;
  const isPart = step.do === 'part';
  const edit = (label: string, recipe: (s: SceneStep) => void, merge?: string): void =>
    change(
      label,
      (sc) => {
        const found = sc.steps.find((s) => s.id === step.id);
        if (found) recipe(found);
      },
      merge && `${step.id} ${merge}`,
    );
  const pressed = (shift: boolean): void => {
    const from = scene.steps.findIndex((s) => s.id === selected[0]);
    if (!shift || from < 0) return select([step.id]);
    const here = scene.steps.indexOf(step);
    const [a, b] = [Math.min(from, here), Math.max(from, here)];
    const range = scene.steps.slice(a, b + 1).map((s) => s.id);
    select(from <= here ? range : range.reverse());
  };
  return (
    <li
      ref={setPlace}
      data-scene-step={step.id}
      className={clsx(
        'group relative flex gap-3 rounded-control py-1.5 pr-2 hover:bg-raised/70',
        isPart && 'mt-3',
        isSelected && 'bg-dusk-wash hover:bg-dusk-wash',
        result?.did === 'failed' && 'bg-persimmon-wash hover:bg-persimmon-wash',
        (step.off || result?.did === 'not reached') && 'opacity-55',
        isOver && (isLower ? 'shadow-[0_2px_0_var(--color-persimmon)]' : 'shadow-[0_-2px_0_var(--color-persimmon)]'),
      )}
    >
      <button
        type="button"
        ref={setNodeRef}
        {...listeners}
        data-select
        aria-label={`Select step ${number}`}
        aria-pressed={isSelected}
        onClick={(e) => pressed(e.shiftKey)}
        className="flex w-[30px] shrink-0 cursor-grab touch-none items-start justify-end text-ink-faint"
      >
        <GripVertical size={14} aria-hidden className="mt-[5px] hidden group-hover:block" />
        <span className="font-mono text-xs leading-6 group-hover:hidden">{isPart ? '' : number}</span>
      </button>
      {isPart ? (
        <h2 className="min-w-0 flex-1 border-b border-line pb-1 text-lg">
          <NameField
            label="Name of this part"
            value={step.name}
            onChange={(name) =>
              edit('Renamed a part', (s) => {
                if (s.do === 'part') s.name = name.slice(0, 200);
              })
            }
          />
        </h2>
      ) : (
        <>
          <div className="min-w-0 flex-1">
            <p
              className="flex cursor-pointer items-start gap-2 leading-6 text-ink-soft"
              onClick={(e) => pressed(e.shiftKey)}
            >
              {isExpect(step) && <Eye size={15} aria-label="Expected:" className="mt-[5px] shrink-0 text-dusk" />}
              <Sentence pieces={sentence(app, scene, step)} />
            </p>
            {step.note !== undefined && (
              <textarea
                aria-label={`Note at step ${number}`}
                rows={1}
                autoFocus={step.note === ''}
                value={step.note}
                placeholder="Why it is so"
                onChange={(e) =>
                  edit('Wrote a note at a step', (s) => void (s.note = e.target.value.slice(0, 2000)), 'note')
                }
                onBlur={() => step.note?.trim() === '' && edit('Took off a note', (s) => void delete s.note)}
                className="field-sizing-content mt-0.5 block w-full max-w-lg resize-none rounded-md border-l-2 border-saffron bg-transparent px-2 py-0.5 text-sm text-ink-soft outline-none"
              />
            )}
            {step.wrong && (
              <p className="text-sm text-ink-faint">
                {step.wrong[0]}{' '}
                <button
                  type="button"
                  className="font-semibold text-ink-soft underline underline-offset-2"
                  onClick={() => edit('Expect that nothing is refused at a step', (s) => void delete s.wrong)}
                >
                  That must not be
                </button>
              </p>
            )}
            {isSelected && selected.length === 1 && <StepEditor app={app} scene={scene} step={step} edit={edit} />}
          </div>
          <StepPicture app={app} scene={scene} step={step} nth={nth} ids={idsNow} />
        </>
      )}
      <span className="flex w-5 shrink-0 justify-center pt-1.5">
        {result?.did === 'passed' && <Check size={14} className="text-kelp" aria-label="As expected" />}
        {result?.did === 'failed' && <CircleX size={15} className="text-persimmon-deep" aria-label="Otherwise" />}
      </span>
      <div className="absolute right-8 bottom-1 flex rounded-control border border-line bg-raised opacity-0 shadow-sm group-focus-within:opacity-100 group-hover:opacity-100">
        {(
          [
            ['Move up', ArrowUp, () => change('Moved a step', (s) => shiftSteps(s, ids, -1))],
            ['Move down', ArrowDown, () => change('Moved a step', (s) => shiftSteps(s, ids, 1))],
            ['Make a copy', Copy, () => change('Made a copy of a step', (s) => void copySteps(s, ids))],
            ['Remove this step', Trash2, () => change(removedWords(ids.length), (s) => removeSteps(s, ids))],
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
              aria-label={`More for step ${number}`}
              className="grid size-6 place-items-center text-ink-soft hover:text-ink"
            >
              <MoreHorizontal size={13} aria-hidden />
            </button>
          }
          items={[
            {
              label: step.off ? 'Switch on' : 'Switch off',
              run: () =>
                change(step.off ? 'Switched a step on' : 'Switched a step off', (sc) => {
                  for (const s of sc.steps)
                    if (ids.includes(s.id)) {
                      if (step.off) delete s.off;
                      else s.off = true;
                    }
                }),
            },
            {
              label: step.note === undefined ? 'Write a note' : 'Remove the note',
              icon: StickyNote,
              run: () =>
                edit('Wrote a note at a step', (s) => {
                  if (s.note === undefined) s.note = '';
                  else delete s.note;
                }),
            },
            {
              label: ids.length > 1 ? `Name these ${ids.length} as a part` : 'Begin a part here',
              icon: TextQuote,
              run: () => change('Began a part', (s) => void groupSteps(s, ids, 'A part')),
            },
          ]}
        />
      </div>
    </li>
  );
}
