import { ArrowDown, ArrowUp, Copy, Trash2 } from 'lucide-react';
import { useNavigate } from 'react-router';
import { duplicateElement, placeOf, removeElement, shiftElement } from '../../core/app/edits.ts';
import {
  COLOURS,
  TEXT_STYLES,
  type ButtonElement,
  type Element,
  type FormElement,
  type InputElement,
  type PictureElement,
  type ReadingElement,
  type Screen,
  type TextElement,
} from '../../core/app/schema.ts';
import { KIND_WORDS } from '../../core/app/uses.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WordsField } from '../chips/WordsField.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { IconButton, Line, Note, Segmented } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { AddInside } from './AddInside.tsx';
import { BoxControls, SeenWhen, SizeLines, TwoCards } from './BoxControls.tsx';
import { ListDesk } from './ListDesk.tsx';
import { elementName, formAround, placeOfElement } from './places.ts';
import { ICON_CHOICES } from './ScreenDesk.tsx';
import { TapSentence } from './TapSentence.tsx';
import { useElementEdit } from './useElementEdit.ts';

/** The selected element, in sentences and compact controls. */
export function ElementDesk({ screen, element }: { screen: Screen; element: Element }) {
  const app = useApp();
  const { edit, kept } = useStudio();
  const navigate = useNavigate();
  const set = useElementEdit<Element>(element);
  const at = placeOf(app, element.id);
  const name = elementName(app, element);
  const to = (id: string): void => void navigate(`/app/${kept!.id}/screens/${screen.id}/${id}`);
  const parent = at?.parent && at.parent.id !== screen.root.id ? at.parent : null;

  const remove = (): void =>
    void edit(`Removed ${name} from ${screen.name}`, (a) => removeElement(a, element.id)).then(() =>
      parent ? to(parent.id) : navigate(`/app/${kept!.id}/screens/${screen.id}`),
    );
  const copy = (): void => {
    let id = '';
    void edit(`Copied ${name}`, (a) => {
      id = duplicateElement(a, element.id)?.id ?? '';
    }).then(() => id && to(id));
  };
  return (
    <>
      <header className="mb-3 flex items-center gap-1.5">
        <div className="min-w-0 flex-1">
          <h1 className="flex items-baseline gap-2 text-xl">
            <NameField value={name} label="Name of the element" onChange={(n) => set('name', n)} className="truncate" />
          </h1>
          <p className="text-sm text-ink-faint">
            {KIND_WORDS[element.kind]}{' '}
            {parent ? (
              <>
                in{' '}
                <button type="button" className="underline underline-offset-2" onClick={() => to(parent.id)}>
                  {elementName(app, parent)}
                </button>
              </>
            ) : null}{' '}
            on {screen.name}
          </p>
        </div>
        <IconButton
          icon={ArrowUp}
          label="Move up (Alt and arrow)"
          disabled={!at || at.at <= 0}
          onClick={() => void edit(`Moved ${name}`, (a) => shiftElement(a, element.id, -1))}
        />
        <IconButton
          icon={ArrowDown}
          label="Move down (Alt and arrow)"
          disabled={!at || at.at >= at.list.length - 1}
          onClick={() => void edit(`Moved ${name}`, (a) => shiftElement(a, element.id, 1))}
        />
        <IconButton icon={Copy} label="Make a copy" onClick={copy} />
        <IconButton icon={Trash2} label="Remove it" onClick={remove} className="mr-1.5" />
        <AddInside screen={screen} at={element} inside={'children' in element} />
      </header>
      <Kind element={element} screen={screen} />
    </>
  );
}

function Kind({ element, screen }: { element: Element; screen: Screen }) {
  switch (element.kind) {
    case 'list':
      return <ListDesk element={element} screen={screen} />;
    case 'text':
      return <TextDesk element={element} screen={screen} />;
    case 'button':
      return <ButtonDesk element={element} screen={screen} />;
    case 'picture':
      return <PictureDesk element={element} screen={screen} />;
    case 'reading':
      return <ReadingDesk element={element} screen={screen} />;
    case 'box':
      return <BoxDesk element={element} screen={screen} />;
    case 'form':
      return <FormDesk element={element} screen={screen} />;
    case 'input':
      return <InputDesk element={element} screen={screen} />;
  }
}

function SizeAndLook({ element, screen, children }: { element: Element; screen: Screen; children?: React.ReactNode }) {
  return (
    <TwoCards
      size={<SizeLines element={element} />}
      look={
        <>
          {children}
          <SeenWhen element={element} screen={screen} />
        </>
      }
    />
  );
}

const STYLE_WORDS: Record<(typeof TEXT_STYLES)[number], string> = {
  title: 'title',
  heading: 'heading',
  strong: 'strong',
  body: 'body',
  small: 'small',
  figure: 'large figure',
};
const COLOUR_WORDS: Record<(typeof COLOURS)[number], string> = {
  ink: 'ink',
  soft: 'soft',
  accent: 'accent',
  good: 'good news',
  look: 'worth a look',
  bad: 'bad news',
};

function TextDesk({ element, screen }: { element: TextElement; screen: Screen }) {
  const set = useElementEdit<TextElement>(element);
  return (
    <>
      <section className="card sentence mb-3.5 flex items-start gap-2 px-4 py-3">
        <span className="shrink-0">Says</span>
        <WordsField
          name="Words"
          value={element.words}
          onChange={(v) => set('words', v)}
          place={placeOfElement(screen, element.id)}
          placeholder="Words, with values in them"
        />
      </section>
      <SizeAndLook element={element} screen={screen}>
        <Line label="Style">
          <ChoiceChip
            name="Style"
            value={element.style}
            choices={TEXT_STYLES.map((s) => ({ value: s, label: STYLE_WORDS[s] }))}
            onChange={(v) => set('style', v)}
          />
        </Line>
        <Line label="Colour">
          <ChoiceChip
            name="Colour"
            value={element.colour}
            choices={COLOURS.map((c) => ({ value: c, label: COLOUR_WORDS[c] }))}
            onChange={(v) => set('colour', v)}
          />
        </Line>
        <Line label="Lined up">
          <Segmented
            label="Lined up"
            value={element.align ?? 'start'}
            options={[
              ['start', 'Start'],
              ['middle', 'Middle'],
              ['end', 'End'],
            ]}
            onChange={(v) => set('align', v)}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}

function ButtonDesk({ element, screen }: { element: ButtonElement; screen: Screen }) {
  const set = useElementEdit<ButtonElement>(element);
  const place = placeOfElement(screen, element.id);
  const inForm = formAround(screen, element.id) !== null;
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <div className="flex items-start gap-2">
          <span className="shrink-0">Says</span>
          <WordsField
            name="Words on the button"
            value={element.words}
            onChange={(v) => set('words', v)}
            place={place}
          />
        </div>
        <p className="mt-1">
          <TapSentence
            tap={element.tap}
            onChange={(tap) => set('tap', tap)}
            place={place}
            screen={screen}
            inForm={inForm}
            about={element.words.replace(/[{}]/g, '')}
          />
        </p>
      </section>
      {element.tap.do === 'nothing' && (
        <div className="mb-3.5">
          <Note>
            <b className="font-semibold">A tap does nothing yet.</b> Choose above what happens, or run a routine.
          </Note>
        </div>
      )}
      <SizeAndLook element={element} screen={screen}>
        <Line label="Look">
          <Segmented
            label="Look"
            value={element.look}
            options={[
              ['main', 'Main'],
              ['quiet', 'Quiet'],
              ['plain', 'Plain'],
            ]}
            onChange={(v) => set('look', v)}
          />
        </Line>
        <Line label="Icon">
          <ChoiceChip
            name="Icon"
            value={element.icon ?? ''}
            choices={[{ value: '', label: 'none' }, ...ICON_CHOICES]}
            onChange={(v) => set('icon', v || undefined)}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}

const PICTURE = { type: 'picture' as const, group: 'Pictures' };

function PictureDesk({ element, screen }: { element: PictureElement; screen: Screen }) {
  const app = useApp();
  const set = useElementEdit<PictureElement>(element);
  const pictureField = { id: 'f_picture', name: 'picture', type: 'picture' as const };
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        Shows the picture at{' '}
        <ValueChip
          name="Picture"
          value={element.source}
          empty="choose a picture"
          prefer={PICTURE}
          place={placeOfElement(screen, element.id)}
          field={pictureField}
          onChange={(v) => set('source', v)}
        />
        {app.files.length > 0 && (
          <>
            {' '}
            or one of the app’s own{' '}
            <ChoiceChip
              name="Own picture"
              value={element.source.startsWith('"file:') ? element.source : null}
              empty="pictures"
              tone="plain"
              choices={app.files.map((f) => ({ value: `"file:${f.id}"`, label: f.name }))}
              onChange={(v) => set('source', v)}
            />
          </>
        )}
      </section>
      <SizeAndLook element={element} screen={screen}>
        <Line label="Shape">
          <Segmented
            label="Shape"
            value={element.shape}
            options={[
              ['wide', 'Wide'],
              ['square', 'Square'],
              ['round', 'Round'],
            ]}
            onChange={(v) => set('shape', v)}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}

function ReadingDesk({ element, screen }: { element: ReadingElement; screen: Screen }) {
  const set = useElementEdit<ReadingElement>(element);
  const place = placeOfElement(screen, element.id);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <div className="flex items-start gap-2">
          <span className="shrink-0">Under the label</span>
          <span className="max-w-72 flex-1">
            <WordsField name="Label" value={element.label} onChange={(v) => set('label', v)} place={place} />
          </span>
        </div>
        <p>
          it shows{' '}
          <ValueChip name="Value" value={element.value} wanted="any" place={place} onChange={(v) => set('value', v)} />
        </p>
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}

function BoxDesk({ element, screen }: { element: Extract<Element, { kind: 'box' }>; screen: Screen }) {
  const set = useElementEdit<Extract<Element, { kind: 'box' }>>(element);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <TapSentence
          tap={element.tap ?? { do: 'nothing' }}
          onChange={(tap) => set('tap', tap)}
          place={placeOfElement(screen, element.id)}
          screen={screen}
          about="Tap on a box"
        />
      </section>
      <BoxControls element={element} screen={screen} />
    </>
  );
}

function FormDesk({ element, screen }: { element: FormElement; screen: Screen }) {
  const app = useApp();
  const set = useElementEdit<FormElement>(element);
  const table = app.tables.find((t) => t.id === element.table);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        Writes a record of{' '}
        <ChoiceChip
          name="Table"
          tone="data"
          value={element.table}
          choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
          onChange={(v) => set('table', v)}
        />
        :{' '}
        <ValueChip
          name="Record"
          value={element.record || 'null'}
          literals={false}
          wanted={{ record: element.table }}
          place={placeOfElement(screen, element.id)}
          onChange={(v) => set('record', v === 'null' ? '' : v)}
        />{' '}
        when it is given, otherwise a new {table?.one ?? 'record'}.
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}

function InputDesk({ element, screen }: { element: InputElement; screen: Screen }) {
  const app = useApp();
  const set = useElementEdit<InputElement>(element);
  const form = formAround(screen, element.id);
  const table = app.tables.find((t) => t.id === form?.table);
  return (
    <>
      {!form && (
        <div className="mb-3.5">
          <Note tone="bad">An input works inside a form. Drag it into one in the outline, or remove it.</Note>
        </div>
      )}
      <section className="card sentence mb-3.5 px-4 py-3">
        Fills in{' '}
        <ChoiceChip
          name="Field"
          tone="data"
          value={element.field || null}
          empty="choose a field"
          choices={(table?.fields ?? [])
            .filter((f) => f.type !== 'formula')
            .map((f) => ({ value: f.id, label: f.name }))}
          onChange={(v) => set('field', v)}
        />{' '}
        under the label{' '}
        <input
          aria-label="Label of the input"
          className="field mx-1 !inline !w-44"
          placeholder={table?.fields.find((f) => f.id === element.field)?.name}
          value={element.label ?? ''}
          onChange={(e) => set('label', e.target.value || undefined)}
        />
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}
