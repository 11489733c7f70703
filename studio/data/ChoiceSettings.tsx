import { useState } from 'react';
import type { Field } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Popover } from '../ui/popover.tsx';
import { choiceColour } from './CellView.tsx';
import type { Change } from './TypeSettings.tsx';

/** The choices of a field with their colours, whether several may be taken, and whether other words may be. */
export function ChoiceSettings({
  field,
  change,
  onSeveral,
}: {
  field: Field;
  change: Change;
  onSeveral(several: boolean): void;
}) {
  const [text, setText] = useState((field.choices ?? []).map((c) => c.name).join('\n'));
  const keep = (): void => {
    const names = [
      ...new Set(
        text
          .split('\n')
          .map((s) => s.trim())
          .filter(Boolean),
      ),
    ];
    if (names.join('\n') === (field.choices ?? []).map((c) => c.name).join('\n')) return;
    change(`Changed the choices of ${field.name}`, (f) => {
      f.choices = names.map((name, i) => f.choices?.find((c) => c.name === name) ?? { name, colour: i % 8 });
    });
  };
  return (
    <div className="mt-1">
      <p className="sentence">
        It takes{' '}
        <ChoiceChip
          name="One or several"
          value={field.several ?? false}
          choices={[
            { value: false, label: 'one' },
            { value: true, label: 'several' },
          ]}
          onChange={onSeveral}
        />{' '}
        of these,{' '}
        <ChoiceChip
          name="Other values"
          value={field.only ?? false}
          choices={[
            { value: false, label: 'or another word' },
            { value: true, label: 'and nothing else' },
          ]}
          onChange={(only) =>
            change(`${field.name} takes ${only ? 'only its choices' : 'other words too'}`, (f) => {
              if (only) f.only = true;
              else delete f.only;
            })
          }
        />
        .
      </p>
      <div className="mt-1 flex gap-4">
        <label className="block w-56 shrink-0 text-ink-soft">
          The choices, one a line
          <textarea
            rows={Math.min(6, Math.max(3, field.choices?.length ?? 0))}
            className="field mt-1 text-ink"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onBlur={keep}
          />
        </label>
        <ul className="mt-6 flex flex-wrap content-start gap-1.5" aria-label="Colours of the choices">
          {(field.choices ?? []).map((c, i) => (
            <li key={c.name}>
              <Popover
                width={150}
                trigger={
                  <button
                    type="button"
                    aria-label={`Colour of ${c.name}`}
                    className="max-w-44 truncate rounded-md px-2 py-0.5"
                    style={{ background: choiceColour(c.colour) }}
                  >
                    {c.name}
                  </button>
                }
              >
                {(close) => (
                  <div className="grid grid-cols-4 gap-1.5 p-2">
                    {Array.from({ length: 8 }, (_, colour) => (
                      <button
                        key={colour}
                        type="button"
                        aria-label={`Colour ${colour + 1}`}
                        aria-pressed={c.colour === colour}
                        className="size-7 rounded-md border border-line aria-pressed:border-ink"
                        style={{ background: choiceColour(colour) }}
                        onClick={() => {
                          change(`Coloured ${c.name}`, (f) => void (f.choices![i]!.colour = colour));
                          close();
                        }}
                      />
                    ))}
                  </div>
                )}
              </Popover>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}
