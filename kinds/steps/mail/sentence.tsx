import { Paperclip, Reply, Rows3, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { newId } from '../../../core/document/ids.ts';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { QuerySentence } from '../../../studio/chips/QuerySentence.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { Button, IconButton } from '../../../studio/ui/controls.tsx';

const MAIL = { type: 'mail' as const, group: 'Mail addresses' };

export default function Sentence({ step, place, each, onChange }: SentenceProps<'mail'>) {
  const { query, onlyWithLines, line: _line, result: _result, resultName: _name, after: _after, ...plain } = step;
  const without = (key: 'files' | 'answers'): void => {
    const { [key]: _gone, ...rest } = step;
    onChange(rest as typeof step);
  };
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
      <Part says="about">
        <WordsField
          name="Subject"
          value={step.subject}
          onChange={(subject) => onChange({ ...step, subject })}
          place={place}
          placeholder="Subject"
        />
      </Part>
      <Part says="saying">
        <WordsField
          name="Mail text"
          rows={2}
          value={step.body}
          onChange={(body) => onChange({ ...step, body })}
          place={place}
          placeholder="The words of the mail"
        />
      </Part>
      {query && (
        <>
          <Part says="for each">
            <span>
              <QuerySentence query={query} place={place} onChange={(next) => onChange({ ...step, query: next })} />
              <IconButton icon={X} label="Leave out the lines" onClick={() => onChange(plain)} />
            </span>
          </Part>
          <Part says="a line">
            <WordsField
              name="The line for each"
              value={step.line ?? ''}
              onChange={(line) => onChange({ ...step, line })}
              place={each}
              placeholder="Words with values of each"
            />
          </Part>
          <Part says="then">
            <WordsField
              name="The words after the lines"
              value={step.after ?? ''}
              onChange={(after) => onChange({ ...step, after })}
              place={place}
              placeholder="More words, if any"
            />
          </Part>
        </>
      )}
      {query && (
        <Part says="if none">
          <ChoiceChip
            name="When no record is found"
            value={onlyWithLines ? 'nothing' : 'mail'}
            choices={[
              { value: 'nothing', label: 'nothing is sent' },
              { value: 'mail', label: 'the mail is sent without lines' },
            ]}
            onChange={(v) => {
              const { onlyWithLines: _before, ...rest } = step;
              onChange(v === 'nothing' ? { ...rest, onlyWithLines: true } : rest);
            }}
          />
        </Part>
      )}
      {step.files !== undefined && (
        <Part says="with">
          <span>
            <ValueChip
              name="Files"
              value={step.files}
              empty="choose a file"
              place={place}
              onChange={(files) => onChange({ ...step, files })}
            />
            <IconButton icon={X} label="Leave out the files" onClick={() => without('files')} />
          </span>
        </Part>
      )}
      {step.answers !== undefined && (
        <Part says="as answer to">
          <span>
            <ValueChip
              name="The message it answers"
              value={step.answers}
              empty="the id of a message"
              place={place}
              onChange={(answers) => onChange({ ...step, answers })}
            />
            <IconButton icon={X} label="Answer no message" onClick={() => without('answers')} />
          </span>
        </Part>
      )}
      <div className="flex flex-wrap gap-1.5">
        {!query && (
          <Button
            small
            look="plain"
            icon={Rows3}
            onClick={() =>
              onChange({
                ...step,
                query: allOf(NO_TABLE),
                line: '',
                after: '',
                result: newId('v'),
                resultName: 'this one',
                onlyWithLines: true,
              })
            }
          >
            A line for each record
          </Button>
        )}
        {step.files === undefined && (
          <Button small look="plain" icon={Paperclip} onClick={() => onChange({ ...step, files: '' })}>
            Files
          </Button>
        )}
        {step.answers === undefined && (
          <Button small look="plain" icon={Reply} onClick={() => onChange({ ...step, answers: '' })}>
            As an answer
          </Button>
        )}
      </div>
    </>
  );
}

function Part({ says, children }: { says: string; children: ReactNode }) {
  return (
    <div className="mb-1.5 flex items-start gap-2">
      <span className="w-14 shrink-0">{says}</span>
      {children}
    </div>
  );
}
