import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp } from '../../../studio/state/studio.ts';
import { Line, Segmented } from '../../../studio/ui/controls.tsx';

const PICTURE = { type: 'picture' as const, group: 'Pictures' };

export default function PictureDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'picture' }>>) {
  const app = useApp();
  const set = useElementEdit<Extract<Element, { kind: 'picture' }>>(element);
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
          place={usePlace(screen, element.id)}
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
