import { useMemo, type ComponentType } from 'react';
import type { Routine, Step, StepKind } from '../../core/app/schema.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import { stepKinds } from '../../kinds/steps/index.ts';
import type { FormulaPlace } from '../chips/place.ts';
import { PropertyControl } from '../screens/DefaultDesk.tsx';
import { labelOf } from '../screens/properties.ts';
import { useModel } from '../state/model.ts';

/** What the sentence of a kind of step gets. */
export interface SentenceProps<K extends StepKind = StepKind> {
  step: Extract<Step, { do: K }>;
  routine: Routine;
  place: FormulaPlace;
  onChange(step: Step): void;
}

// One file a kind; a kind without one has a sentence made of its properties.
const sentences = import.meta.glob<{ default: ComponentType<SentenceProps<never>> }>(
  '../../kinds/steps/*/sentence.tsx',
  { eager: true },
);

/** One step as a sentence with places to fill in. */
export function StepSentence({ step, routine, onChange }: Omit<SentenceProps, 'place'>) {
  const model = useModel();
  const place = useMemo(
    (): FormulaPlace => ({ self: null, things: thingsInRoutine(stepKinds, model, routine) }),
    [model, routine],
  );
  const Sentence = sentences[`../../kinds/steps/${step.do}/sentence.tsx`]?.default as
    ComponentType<SentenceProps> | undefined;
  const props = { step, routine, place, onChange };
  return Sentence ? <Sentence {...props} /> : <DefaultSentence {...props} />;
}

/** The name of the kind, then its properties one after the other. */
function DefaultSentence({ step, place, onChange }: SentenceProps) {
  const definition = stepKinds.get(step.do);
  const held = step as unknown as Record<string, unknown>;
  return (
    <>
      {definition?.said.name}{' '}
      {Object.entries(definition?.properties ?? {})
        .filter(([, p]) => p.is !== 'steps' && p.is !== 'result')
        .map(([name, p]) => (
          <span key={name}>
            <span className="sr-only">{labelOf(p)}</span>
            <PropertyControl
              p={p}
              value={held[name]}
              place={place}
              onChange={(v) => onChange({ ...held, [name]: v } as unknown as Step)}
            />{' '}
          </span>
        ))}
    </>
  );
}
