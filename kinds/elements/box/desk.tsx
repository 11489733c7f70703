import type { BoxElement } from '../../../core/app/schema.ts';
import { BoxControls } from '../../../studio/screens/BoxControls.tsx';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { OtherTaps } from '../../../studio/screens/OtherTaps.tsx';
import { TapSentence } from '../../../studio/screens/TapSentence.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';

export default function BoxDesk({ element, screen }: DeskProps<BoxElement>) {
  const set = useElementEdit<BoxElement>(element);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <p>
          <TapSentence
            tap={element.tap ?? { do: 'nothing' }}
            onChange={(tap) => set('tap', tap)}
            place={usePlace(screen, element.id)}
            about="Tap on a box"
          />
        </p>
        <OtherTaps element={element} screen={screen} />
      </section>
      <BoxControls element={element} screen={screen} />
    </>
  );
}
