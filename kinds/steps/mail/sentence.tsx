import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

const MAIL = { type: 'mail' as const, group: 'Mail addresses' };

export default function Sentence({ step, place, onChange }: SentenceProps<'mail'>) {
  return (
    <>
      <p>
        Send mail to{' '}
        <ValueChip
          name="Mail address"
          value={step.to}
          empty="choose an address"
          prefer={MAIL}
          place={place}
          onChange={(to) => onChange({ ...step, to })}
        />
      </p>
      <div className="mb-1.5 flex items-start gap-2">
        <span className="w-12 shrink-0">about</span>
        <WordsField
          name="Subject"
          value={step.subject}
          onChange={(subject) => onChange({ ...step, subject })}
          place={place}
          placeholder="Subject"
        />
      </div>
      <div className="flex items-start gap-2">
        <span className="w-12 shrink-0">saying</span>
        <WordsField
          name="Mail text"
          rows={2}
          value={step.body}
          onChange={(body) => onChange({ ...step, body })}
          place={place}
          placeholder="The words of the mail"
        />
      </div>
    </>
  );
}
