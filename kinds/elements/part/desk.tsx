import { Component, Unlink } from 'lucide-react';
import { useNavigate } from 'react-router';
import { partOf } from '../../../core/app/names.ts';
import { takeApart } from '../../../core/app/parts.ts';
import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { TapSentence } from '../../../studio/screens/TapSentence.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp, useHome, useStudio } from '../../../studio/state/studio.ts';
import { Button } from '../../../studio/ui/controls.tsx';

type PartElement = Extract<Element, { kind: 'part' }>;

/** A place of a part: which one, and what it gives to its inputs. */
export default function PartDesk({ element, screen }: DeskProps<PartElement>) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const place = usePlace(screen, element.id);
  const set = useElementEdit<PartElement>(element);
  const part = partOf(app, element.part);
  const base = `${home}/screens`;
  const give = (field: string, value: string): void =>
    set('values', [...element.values.filter((v) => v.field !== field), ...(value ? [{ field, value }] : [])]);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <p>
          Stands for the part{' '}
          <ChoiceChip
            name="Part"
            icon={Component}
            value={element.part || null}
            empty="choose a part"
            choices={(app.parts ?? []).map((p) => ({ value: p.id, label: p.name }))}
            onChange={(v) => set('part', v)}
          />
          {part && (
            <button
              type="button"
              className="ml-1.5 text-sm font-semibold text-kelp hover:underline"
              onClick={() => void navigate(`${base}/${part.id}`)}
            >
              work on it
            </button>
          )}
        </p>
        {part?.inputs.map((i) =>
          i.isTap ? (
            <p key={i.id}>
              {i.name}:{' '}
              <TapSentence
                tap={element.taps?.find((t) => t.input === i.id)?.tap ?? { do: 'nothing' }}
                place={place}
                about={i.name}
                onChange={(tap) =>
                  set('taps', [...(element.taps ?? []).filter((t) => t.input !== i.id), { input: i.id, tap }])
                }
              />
            </p>
          ) : (
            <p key={i.id}>
              with{' '}
              <ValueChip
                name={i.name}
                value={element.values.find((v) => v.field === i.id)?.value ?? ''}
                empty={i.first ? `${i.name}: as it begins` : `choose ${i.name}`}
                optional={i.first !== ''}
                field={i}
                wanted={i.link ? (i.several ? { records: i.link.table } : { record: i.link.table }) : 'value'}
                literals={!i.link}
                place={place}
                onChange={(v) => give(i.id, v)}
              />{' '}
              as its {i.name}
            </p>
          ),
        )}
        {part && (
          <Button
            small
            className="mt-2"
            icon={Unlink}
            onClick={() => {
              let id = '';
              void edit(`Took ${part.name} apart`, (a) => {
                id = takeApart(a as typeof app, element.id)?.id ?? '';
              }).then(() => navigate(`${base}/${screen.id}/${id}`));
            }}
          >
            Take it apart here
          </Button>
        )}
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}
