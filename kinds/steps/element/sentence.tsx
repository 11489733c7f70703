import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ElementChip } from '../../../studio/chips/ElementChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { choicesOf } from '../../../studio/screens/properties.ts';
import { elementStep } from './definition.ts';

export default function Sentence({ step, onChange }: SentenceProps<'element'>) {
  return (
    <>
      <ChoiceChip
        name="What is done"
        value={step.how}
        choices={choicesOf(elementStep.properties.how)}
        onChange={(how) => onChange({ ...step, how })}
      />{' '}
      <ElementChip name="Element" value={step.element} onChange={(element) => onChange({ ...step, element })} />
    </>
  );
}
