import { Upload } from 'lucide-react';
import { elementOf } from '../../../core/app/edits.ts';
import type { Element } from '../../../core/app/schema.ts';
import { picture } from './definition.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { PropertyControl } from '../../../studio/screens/DefaultDesk.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp, useStudio } from '../../../studio/state/studio.ts';
import { chooseOwnPicture } from '../../../studio/ui/own-picture.ts';
import { Line } from '../../../studio/ui/controls.tsx';
import { ChoiceLine } from '../../../studio/screens/ChoiceLine.tsx';

const CORNERS = [-1, 0, 4, 8, 12, 16, 24, 40];
const LABELS = { ratio: 'Width to height', whole: 'Seen', raised: 'It lies' };
/** A picture of the app's own, or its logo. */
const OWN = /^"(file:|app:logo)/;
const PICTURE = { type: 'picture' as const, group: 'Pictures' };

export default function PictureDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'picture' }>>) {
  const app = useApp();
  const set = useElementEdit<Extract<Element, { kind: 'picture' }>>(element);
  const place = usePlace(screen, element.id);
  const isOwn = OWN.test(element.source);
  const edit = useStudio((s) => s.edit);
  const bring = async (): Promise<void> => {
    const picture = await chooseOwnPicture();
    if (!picture) return;
    await edit('Brought a picture', (a) => {
      a.files.push(picture);
      const e = elementOf(a as typeof app, element.id);
      if (e?.kind === 'picture') e.source = `"file:${picture.id}"`;
    });
  };
  const pictureField = { id: 'f_picture', name: 'picture', type: 'picture' as const };
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        Shows the picture at{' '}
        <ValueChip
          name="Picture"
          value={isOwn ? '' : element.source}
          empty={isOwn ? 'a field or address' : 'choose a picture'}
          optional={isOwn}
          prefer={PICTURE}
          place={place}
          field={pictureField}
          onChange={(v) => set('source', v)}
        />
        , or{' '}
        <ChoiceChip
          name="Own picture"
          value={isOwn ? element.source : null}
          empty="one of the app’s own"
          tone="plain"
          choices={[
            ...(app.look.logo ? [{ value: '"app:logo"', label: 'The logo' }] : []),
            ...app.files
              .filter((f) => f.type.startsWith('image/'))
              .map((f) => ({ value: `"file:${f.id}"`, label: f.name })),
            { value: '', label: 'From this computer…', icon: Upload },
          ]}
          onChange={(v) => (v ? set('source', v) : void bring())}
        />
        .
      </section>
      <SizeAndLook element={element} screen={screen}>
        <ChoiceLine
          label="Shape"
          property={picture.properties.shape}
          value={element.shape}
          onChange={(v) => set('shape', v)}
        />
        {(['ratio', 'whole', 'raised'] as const).map((key) => (
          <Line key={key} label={LABELS[key]}>
            <PropertyControl
              p={picture.properties[key]}
              value={element[key]}
              place={place}
              onChange={(v) => set(key, (v || undefined) as never)}
            />
          </Line>
        ))}
        <Line label="Corners">
          <ChoiceChip
            name="Corners"
            value={element.corner ?? -1}
            choices={CORNERS.map((n) => ({ value: n, label: n < 0 ? 'the theme’s' : String(n) }))}
            onChange={(n) => set('corner', n < 0 ? undefined : n)}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}
