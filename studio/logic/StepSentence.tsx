import { useMemo, type ComponentType } from 'react';
import { useApp } from '../state/studio.ts';
import { helperOf } from '../../core/app/helper-of.ts';
import { WORKS } from '../../core/app/schema.ts';
import { requestWithService } from '../../core/app/services.ts';
import type { Routine, Step, StepKind } from '../../core/app/schema.ts';
import type { Property } from '../../core/document/meaning.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import { stepReach, type StepReach } from '../../core/routines/reach.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import type { FormulaPlace } from '../chips/place.ts';
import { PropertyControl } from '../screens/DefaultDesk.tsx';
import { labelOf } from '../screens/properties.ts';
import { useModel } from '../state/model.ts';
import { NameField } from '../ui/NameField.tsx';

/** What the sentence of a kind of step gets. */
export interface SentenceProps<K extends StepKind = StepKind> {
  step: Extract<Step, { do: K }>;
  routine: Routine;
  place: FormulaPlace;
  /** Where the step's own result stands for each of its records. */
  each: FormulaPlace;
  onChange(step: Step): void;
}

// One file a kind; a kind without one has a sentence made of its properties.
const sentences = import.meta.glob<{ default: ComponentType<SentenceProps<never>> }>(
  '../../kinds/steps/*/sentence.tsx',
  { eager: true },
);

/** What is in reach at every step, worked out once for all sentences of a routine as it is now. */
const reaches = new WeakMap<readonly Step[], StepReach['at']>();
function reachIn(steps: readonly Step[]): StepReach['at'] {
  const at = reaches.get(steps) ?? stepReach(stepKinds, steps).at;
  reaches.set(steps, at);
  return at;
}

/** One step as a sentence with places to fill in. */
export function StepSentence({ step, routine, onChange }: Omit<SentenceProps, 'place' | 'each'>) {
  const model = useModel();
  const { result } = step as Step & { result?: string };
  const [place, each] = useMemo((): [FormulaPlace, FormulaPlace] => {
    const reach = reachIn(routine.steps).get(step.id) ?? new Set<string>();
    const at = (ids: ReadonlySet<string>): FormulaPlace => ({
      self: null,
      things: thingsInRoutine(stepKinds, model, routine, ids),
    });
    return [at(reach), at(result ? new Set([...reach, result]) : reach)];
  }, [model, routine, step.id, result]);
  const Sentence = sentences[`../../kinds/steps/${step.do.replace(/ /g, '-')}/sentence.tsx`]?.default as
    ComponentType<SentenceProps> | undefined;
  const props = { step, routine, place, each, onChange };
  const { standIn } = stepKinds.get(step.do)?.said ?? {};
  const app = useApp();
  const helper = WORKS.find((w) => w === step.do);
  const by = helper && helperOf(app, helper);
  const doneBy = by && requestWithService(app, by.request);
  return (
    <>
      {Sentence ? <Sentence {...props} /> : <DefaultSentence {...props} />}
      {standIn && (
        <p className="text-sm leading-5 text-ink-faint">
          {doneBy ? `Done by ${doneBy.request.name} of ${doneBy.service.name}.` : standIn}
        </p>
      )}
    </>
  );
}

/** So many properties stand in one line; more stand one under the other. */
const FEW = 2;

/** The name of the kind, then its properties one after the other; what it gives has a name that can be changed. */
function DefaultSentence({ step, place, each, onChange }: SentenceProps) {
  const definition = stepKinds.get(step.do);
  const held = step as unknown as Record<string, unknown>;
  const { result } = held;
  const change = (name: string, value: unknown): void => onChange({ ...held, [name]: value } as unknown as Step);
  const control = (name: string, p: Property) => (
    <PropertyControl
      p={p}
      value={held[name]}
      place={p.ownResult ? each : place}
      held={held}
      onChange={(v) => change(name, v)}
    />
  );
  const shown = Object.entries(definition?.properties ?? {}).filter(
    ([name, p]) => p.is !== 'steps' && p.is !== 'result' && name !== 'resultName',
  );
  const gave = result !== undefined && (
    <>
      {shown.length > FEW ? 'What it makes is called ' : 'and call it '}
      <b className="font-semibold text-kelp">
        <NameField
          value={String(held['resultName'] ?? '')}
          label="What it is called"
          onChange={(n) => change('resultName', n)}
        />
      </b>
    </>
  );
  if (shown.length > FEW)
    return (
      <>
        <p className="mb-1.5">{definition?.said.name}</p>
        <dl className="grid grid-cols-[8.5rem_minmax(0,1fr)] items-start gap-x-3 gap-y-1.5">
          {shown.map(([name, p]) => (
            <div key={name} className="contents">
              <dt className="text-ink-soft">{labelOf(p).toLowerCase()}</dt>
              <dd className={p.is === 'words' ? 'max-w-md' : undefined}>{control(name, p)}</dd>
            </div>
          ))}
        </dl>
        {gave && <p className="mt-1.5">{gave}</p>}
      </>
    );
  return (
    <>
      {definition?.said.name}{' '}
      {shown.map(([name, p], i) => (
        <span key={name} className={p.is === 'words' ? 'flex items-start gap-2' : undefined}>
          <span className={i === 0 ? 'sr-only' : 'shrink-0'}>
            {i === 0 ? labelOf(p) : ` ${labelOf(p).toLowerCase()}`}{' '}
          </span>
          <span className={p.is === 'words' ? 'max-w-96 flex-1' : undefined}>{control(name, p)}</span>{' '}
        </span>
      ))}
      {gave}
    </>
  );
}
