import { MOST_DOMAINS } from '../../core/app/access-schema.ts';
import { addressesIn, domainIn } from '../../core/document/addresses.ts';
import { useEffect, useState } from 'react';
import { Note } from '../ui/controls.tsx';

/** The domains whose addresses become people of the table when they first sign in; taken when the box is left. */
export function Domains({
  domains,
  onChange,
}: {
  domains: readonly string[];
  onChange(domains: string[] | undefined): void;
}) {
  const written = domains.join(', ');
  const [text, setText] = useState(written);
  const [problem, setProblem] = useState('');
  useEffect(() => setText(written), [written]);
  const take = (): void => {
    const parts = addressesIn(text);
    const read = parts.map((part) => domainIn(part));
    const wrong = parts.filter((_, i) => read[i] === null);
    if (wrong.length || parts.length > MOST_DOMAINS)
      return setProblem(
        wrong.length
          ? `“${wrong[0]}” is no domain. Write what comes behind the @ of the addresses, such as club.example.`
          : `At most ${MOST_DOMAINS} domains.`,
      );
    setProblem('');
    const next = [...new Set(read as string[])];
    setText(next.join(', '));
    if (next.join(', ') !== written) onChange(next.length ? next : undefined);
  };
  return (
    <>
      <p>
        Whoever has an address at{' '}
        <input
          className="field mx-1 w-64"
          aria-label="Domains of addresses"
          placeholder="no domain; such as club.example"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => e.key === 'Enter' && take()}
        />{' '}
        may sign in too, and becomes a record there.
      </p>
      {problem && (
        <div className="my-2">
          <Note tone="bad">{problem}</Note>
        </div>
      )}
    </>
  );
}
