import { ElementChip } from '../../../studio/chips/ElementChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'fill'>) {
  return (
    <>
      Fill in{' '}
      <ElementChip name="Input" inputs value={step.element} onChange={(element) => onChange({ ...step, element })} />{' '}
      with{' '}
      <ValueChip
        name="With what"
        value={step.value}
        empty="choose a value"
        place={place}
        onChange={(value) => onChange({ ...step, value })}
      />
    </>
  );
}
