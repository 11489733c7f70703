import { VARIABLES } from '../../../core/document/ids.ts';
import { addVariable, setVariableKind } from '../../../core/app/variables.ts';
import { elementOf } from '../../../core/app/edits.ts';
import type { Element } from '../../../core/app/schema.ts';
import { isWritable } from '../../../core/records/cells.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { ChoiceChip, type Choice } from '../../../studio/chips/ChoiceChip.tsx';
import { NEVER_OR_ALWAYS, ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WhenSentence } from '../../../studio/chips/WhenSentence.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { OtherTaps } from '../../../studio/screens/OtherTaps.tsx';
import { PropertyControl } from '../../../studio/screens/DefaultDesk.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace, useReach } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useModel } from '../../../studio/state/model.ts';
import { useApp, useStudio } from '../../../studio/state/studio.ts';
import { Line } from '../../../studio/ui/controls.tsx';
import { input } from './definition.ts';

type InputElement = Extract<Element, { kind: 'input' }>;
/** Stands for a variable that is made when it is chosen. */
const NEW = 'new';

/** The ways an input of a field can be filled in, besides the usual one. */
function waysFor(field: Field | undefined): NonNullable<InputElement['as']>[] {
  if (!field) return [];
  if (field.type === 'choice') return field.several ? ['chips', 'ticks'] : ['chips', 'menu', 'ticks'];
  if (field.type === 'picture') return ['drawing', 'signing'];
  if (field.least !== undefined && field.most !== undefined) return ['slider'];
  return field.type === 'text' ? ['search', 'hidden'] : [];
}

/** Types of which one of a list can be chosen. */
const OFFERS: ReadonlySet<string | undefined> = new Set(['text', 'choice']);
const RANGED: ReadonlySet<string> = new Set(['number', 'money', 'percent']);

export default function InputDesk({ element, screen }: DeskProps<InputElement>) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const set = useElementEdit<InputElement>(element);
  const { form, things } = useReach(screen, element.id);
  const place = usePlace(screen, element.id);
  const fieldsOf = (table: string): readonly Field[] => model.tables.get(table)?.table.fields ?? [];
  const choices: Choice<string>[] = [];
  const offer = (table: string, group: string): void => {
    for (const f of fieldsOf(table))
      if (isWritable(f) || f.link?.kind === 'matched') choices.push({ value: f.id, label: f.name, group });
  };
  if (form) offer(form, `Of the form`);
  else for (const t of things) if (t.type.k === 'record' && !t.variable) offer(t.type.table, `Of ${t.name}, at once`);
  for (const t of things) if (t.variable) choices.push({ value: t.id, label: t.name, group: 'Variables' });
  choices.push({ value: NEW, label: 'A new variable of this screen', group: 'Variables' });
  const field = [...model.tables.values()].flatMap((t) => t.fields.get(element.field) ?? [])[0];
  const isVariable = model.member(VARIABLES, element.field) !== undefined;
  const ways = waysFor(field);

  const choose = (id: string): void => {
    if (id !== NEW) return set('field', id);
    void edit('Made a variable for an input', (a) => {
      const made = addVariable(a, screen.id, 'Typed');
      setVariableKind(a, made.id, 'text');
      const e = elementOf(a as typeof app, element.id) as InputElement | null;
      if (e) e.field = made.id;
    });
  };
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <p>
          Fills in{' '}
          <ChoiceChip
            name="Field"
            tone="data"
            value={element.field || null}
            empty="choose a field or variable"
            choices={choices}
            onChange={choose}
          />
          {ways.length > 0 && (
            <>
              {' '}
              <ChoiceChip
                name="How it is filled in"
                value={element.as ?? 'usual'}
                choices={(['usual', ...ways] as const).map((value) => ({
                  value,
                  label: input.properties.as.labels![value]!,
                }))}
                onChange={(v) => set('as', v === 'usual' ? undefined : v)}
              />
            </>
          )}
          {element.as === 'drawing' && (
            <>
              {' over '}
              <ValueChip
                name="Picture behind"
                value={element.behind ?? ''}
                empty="an empty sheet"
                optional
                place={place}
                prefer={{ type: 'picture', group: 'Pictures' }}
                onChange={(v) => set('behind', v || undefined)}
              />
            </>
          )}
          .
        </p>
        <p>
          Read-only when{' '}
          <WhenSentence
            key={element.id}
            name="Read-only when"
            none="never"
            formula={element.locked}
            fixed={NEVER_OR_ALWAYS}
            place={place}
            onChange={(v) => set('locked', v)}
          />
          {isVariable && (
            <>
              {' '}
              Valid when{' '}
              <ValueChip
                name="What must hold"
                value={element.check ?? ''}
                empty="nothing"
                optional
                wanted="yesno"
                literals={false}
                place={place}
                onChange={(v) => set('check', v || undefined)}
              />
            </>
          )}
          .
        </p>
        {field?.link && (
          <p>
            New records{' '}
            <ChoiceChip
              name="New records"
              value={element.adds ?? false}
              choices={[
                { value: false, label: 'cannot be added here' },
                { value: true, label: 'can be added by name' },
              ]}
              onChange={(v) => set('adds', v || undefined)}
            />
            .
          </p>
        )}
        {OFFERS.has(field?.type) && (
          <p>
            It offers{' '}
            <ValueChip
              name="What it offers"
              value={element.offers ?? ''}
              empty={field?.type === 'choice' ? 'all choices' : 'nothing: it is typed'}
              optional
              wanted="any"
              literals={false}
              fixed={[['', field?.type === 'choice' ? 'all choices' : 'nothing: it is typed']]}
              place={place}
              onChange={(v) => set('offers', v || undefined)}
            />
            .
          </p>
        )}
        {field && RANGED.has(field.type) && (
          <p>
            From{' '}
            <ValueChip
              name="The least"
              value={element.least ?? ''}
              empty={field.least === undefined ? 'any' : `its own ${field.least}`}
              optional
              field={field}
              fixed={[['', field.least === undefined ? 'any' : `its own ${field.least}`]]}
              place={place}
              onChange={(v) => set('least', v || undefined)}
            />{' '}
            to{' '}
            <ValueChip
              name="The most"
              value={element.most ?? ''}
              empty={field.most === undefined ? 'any' : `its own ${field.most}`}
              optional
              field={field}
              fixed={[['', field.most === undefined ? 'any' : `its own ${field.most}`]]}
              place={place}
              onChange={(v) => set('most', v || undefined)}
            />
            .
          </p>
        )}
        {(field?.type === 'code' || element.as === 'drawing') && (
          <OtherTaps element={element} screen={screen} only={[field?.type === 'code' ? 'scanned' : 'drawn']} />
        )}
      </section>
      <section className="card mb-3.5 px-4 py-2">
        <Line label="Label">
          <WordsField
            name="Label"
            value={element.label ?? ''}
            place={place}
            placeholder={field?.name}
            onChange={(v) => set('label', v || undefined)}
          />
        </Line>
        <Line label="Hint in it">
          <WordsField
            name="Hint"
            value={element.hint ?? ''}
            place={place}
            onChange={(v) => set('hint', v || undefined)}
          />
        </Line>
        <Line label="Help below">
          <WordsField
            name="Help"
            value={element.help ?? ''}
            place={place}
            onChange={(v) => set('help', v || undefined)}
          />
        </Line>
        {element.check && (
          <Line label="Otherwise">
            <WordsField
              name="What is said otherwise"
              value={element.checkWords ?? ''}
              place={place}
              placeholder="This does not fit here."
              onChange={(v) => set('checkWords', v || undefined)}
            />
          </Line>
        )}
      </section>
      <SizeAndLook element={element} screen={screen}>
        <Line label="Text size">
          <PropertyControl
            p={input.properties.size}
            value={element.size ?? 'usual'}
            place={place}
            onChange={(v) => set('size', v === 'usual' ? undefined : (v as InputElement['size']))}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}
