import type { Table } from '../../core/tables/schema.ts';
import type { Sentence, Tidying, WordPart } from '../../core/formula/guided.ts';
import { pieces } from '../../core/records/words.ts';
import { ChoiceChip, type Choice } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WordsField } from '../chips/WordsField.tsx';

const TIDYING: Choice<Tidying>[] = [
  { value: 'spaces', label: 'single spaces' },
  { value: 'trim', label: 'no spaces around it' },
  { value: 'capital', label: 'a capital at its beginning' },
  { value: 'upper', label: 'capital letters' },
  { value: 'lower', label: 'small letters' },
];

interface Props<K extends Sentence['kind']> {
  table: Table;
  sentence: Sentence & { kind: K };
  onChange(s: Sentence): void;
}

/** Words with values between them, typed as they stand. */
export function WordsSentence({ table, sentence, onChange }: Props<'words'>) {
  const here = { self: table.id, things: [] };
  return (
    <div className="sentence flex max-w-[760px] items-start gap-2">
      <span className="shrink-0">Says</span>
      <WordsField
        name="Words"
        value={templateOf(sentence.parts)}
        plain
        placeholder="Words; an open brace puts a value in"
        place={here}
        onChange={(template) => onChange({ ...sentence, parts: partsOf(template) })}
      />
    </div>
  );
}

const templateOf = (parts: readonly WordPart[]): string =>
  parts.map((p) => ('text' in p ? p.text.replace(/\{/g, '{{') : `{${p.value}}`)).join('');
const partsOf = (template: string): WordPart[] =>
  pieces(template).map((p) => ('words' in p ? { text: p.words } : { value: p.formula }));

/** A text without odd spaces, or with its capitals changed. */
export function TidySentence({ table, sentence, onChange }: Props<'tidy'>) {
  const here = { self: table.id, things: [] };
  return (
    <p className="sentence">
      <ValueChip
        name="Text"
        value={sentence.path}
        empty="choose a text"
        literals={false}
        place={here}
        onChange={(path) => onChange({ ...sentence, path })}
      />{' '}
      with{' '}
      <ChoiceChip
        name="Made even"
        value={sentence.how}
        choices={TIDYING}
        onChange={(how) => onChange({ ...sentence, how })}
      />
    </p>
  );
}
