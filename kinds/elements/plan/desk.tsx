import { Upload } from 'lucide-react';
import { elementOf } from '../../../core/app/edits.ts';
import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { FieldChip } from '../../../studio/screens/FieldChips.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { useFields } from '../../../studio/screens/RecordsCard.tsx';
import { RecordsDesk } from '../../../studio/screens/RecordsDesk.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp, useStudio } from '../../../studio/state/studio.ts';
import { chooseGround, GEOJSON } from '../../../studio/ui/own-ground.ts';
import { Line } from '../../../studio/ui/controls.tsx';

/** Stands for a file that is still to be chosen. */
const BRING = 'bring';

type PlanElement = Extract<Element, { kind: 'plan' }>;
const PICTURE = { type: 'picture' as const, group: 'Pictures' };

/** A plan or map in sentences: which records, where each is, on what ground. */
export default function PlanDesk({ element, screen }: DeskProps<PlanElement>) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const bring = async (): Promise<void> => {
    const file = await chooseGround();
    if (!file) return;
    await edit(`Brought ${file.name}`, (a) => {
      a.files.push(file);
      const e = elementOf(a, element.id);
      if (e?.kind === 'plan') e.land = `"file:${file.id}"`;
    });
  };
  const set = useElementEdit<PlanElement>(element);
  const place = usePlace(screen, element.id);
  const { all } = useFields(element.query.table);
  const places = all.filter((f) => f.type === 'plan' || f.type === 'place');
  return (
    <RecordsDesk
      element={element}
      screen={screen}
      ordered={false}
      sentences={
        <p>
          Placed by its{' '}
          <FieldChip name="Where" value={element.at} fields={places} onChange={(id) => set('at', id ?? '')} /> says
        </p>
      }
      look={
        <>
          <Line label="Ground">
            <ValueChip
              name="Picture of the ground"
              value={element.ground ?? ''}
              empty="the field’s own"
              optional
              place={place}
              prefer={PICTURE}
              onChange={(v) => set('ground', v || undefined)}
            />
          </Line>
          {places.find((f) => f.id === element.at)?.type === 'place' && (
            <Line label="Drawn from">
              <ChoiceChip
                name="Drawn from"
                value={element.land ?? ''}
                choices={[
                  { value: '', label: 'nothing' },
                  ...app.files
                    .filter((f) => f.type === GEOJSON)
                    .map((f) => ({ value: `"file:${f.id}"`, label: f.name })),
                  { value: BRING, label: 'GeoJSON from this computer…', icon: Upload },
                ]}
                onChange={(v) => (v === BRING ? void bring() : set('land', v || undefined))}
              />
            </Line>
          )}
        </>
      }
    />
  );
}
