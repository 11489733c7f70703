import { useEffect, useId, useRef, useState, type ReactNode } from 'react';
import type { Answer, Question } from '../core/routines/asks.ts';
import type { KeptValue } from '../core/records/kept-value.ts';
import { PastSheet } from './PastSheet.tsx';

/** Why something was not given. */
export const failed = (reason: string): Answer => ({ ok: false, reason });

/** A card at the foot of the phone with words and ways to answer. */
export function AskSheet({ words, children, onClose }: { words: string; children: ReactNode; onClose(): void }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const first = box.current?.querySelector<HTMLElement>('input:not([type=file]), textarea, button');
    (first ?? box.current)?.focus();
    if (first instanceof HTMLInputElement && first.type === 'text') first.select();
  }, []);
  return (
    <div
      className="k-over"
      data-ask
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        onClose();
      }}
    >
      <div className="k-ask" role="dialog" aria-modal aria-label={words || 'A question'} ref={box} tabIndex={-1}>
        {words && (
          <p className="k-text" data-style="heading">
            {words}
          </p>
        )}
        {children}
      </div>
    </div>
  );
}

/** What a person is asked, with ways to answer. */
export function QuestionSheet({ question, answer }: { question: Question; answer(given: Answer): void }) {
  const value = (v: KeptValue): void => answer({ ok: true, value: v });
  if (question.wants === 'yes or no')
    return (
      <AskSheet words={question.words} onClose={() => value(false)}>
        <button type="button" className="k-button" data-look="main" onClick={() => value(true)}>
          {question.yes}
        </button>
        <button type="button" className="k-button" data-look="quiet" onClick={() => value(false)}>
          {question.no}
        </button>
      </AskSheet>
    );
  if (question.wants === 'a choice') {
    const none = (): void => answer(failed('Nothing was chosen.'));
    return (
      <AskSheet words={question.words} onClose={none}>
        <div className="k-menu-choices">
          {question.choices.map((c, i) => (
            <button key={i} type="button" className="k-button" data-look="quiet" onClick={() => value(c.value)}>
              {c.label}
            </button>
          ))}
        </div>
        <button type="button" className="k-button" data-look="plain" onClick={none}>
          {question.later ? 'Later' : 'Cancel'}
        </button>
      </AskSheet>
    );
  }
  if (question.wants === 'a look back') return <PastSheet question={question} answer={answer} />;
  return <ValueSheet question={question} answer={answer} />;
}

function ValueSheet({
  question,
  answer,
}: {
  question: Extract<Question, { wants: 'a value' }>;
  answer(given: Answer): void;
}) {
  const id = useId();
  const [text, setText] = useState(question.first);
  const none = (): void => answer(failed('Nothing was answered.'));
  const common = {
    id,
    value: text,
    placeholder: question.hint,
    'aria-label': question.words,
    onChange: (e: { target: { value: string } }) => setText(e.target.value),
  };
  return (
    <AskSheet words={question.words} onClose={none}>
      <form
        className="k-ask-form k-field"
        onSubmit={(e) => {
          e.preventDefault();
          if (text.trim()) answer({ ok: true, value: text });
        }}
      >
        {question.as === 'long text' ? (
          <textarea rows={text.length > 120 ? 9 : 4} {...common} />
        ) : (
          <input
            type={question.as === 'date' ? 'date' : 'text'}
            inputMode={question.as === 'number' ? 'decimal' : undefined}
            {...common}
          />
        )}
        <button type="submit" className="k-button" data-look="main" disabled={!text.trim()}>
          OK
        </button>
        <button type="button" className="k-button" data-look="plain" onClick={none}>
          {question.later ? 'Later' : 'Cancel'}
        </button>
      </form>
    </AskSheet>
  );
}
