import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'repeat'>) {
  return (
    <>
      <WhereSentence
        lead="Repeat while"
        bare="choose a condition"
        grouped
        where={step.when}
        place={place}
        onChange={(when) => onChange({ ...step, when })}
      />
      , at most{' '}
      <input
        type="number"
        aria-label="How often at most"
        className="field !inline !w-20 font-mono text-xs"
        min={1}
        max={10_000}
        value={step.most}
        onChange={(e) => {
          const n = Math.round(Number(e.target.value));
          if (n >= 1 && n <= 10_000) onChange({ ...step, most: n });
        }}
      />{' '}
      times:
    </>
  );
}
