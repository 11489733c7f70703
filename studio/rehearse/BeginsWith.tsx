import type { Scene } from '../../core/app/scene-schema.ts';
import { MOST_OWN_RECORDS } from '../../core/app/scene-schema.ts';
import { neededRecords } from '../../core/scenes/own-records.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { toast } from 'sonner';
import type { EditScene } from './edit-scene.ts';

type Begins = 'app' | 'own' | 'none';

/** The records that a scene begins with: those of the app, its own, or none. */
export function BeginsWith({ scene, change }: { scene: Scene; change: EditScene }) {
  const app = useApp();
  const count = scene.records?.length ?? 0;
  const value: Begins = scene.records ? (count > 0 ? 'own' : 'none') : 'app';
  const take = async (begins: Begins): Promise<void> => {
    if (begins === 'app') return change('Began a scene with the records of the app', (s) => void delete s.records);
    if (begins === 'none') return change('Began a scene with no records', (s) => void (s.records = []));
    const states = await useStudio.getState().engine!.states();
    const own = neededRecords(app, scene, states);
    if (own.length > MOST_OWN_RECORDS)
      return void toast.error(`A scene takes ${MOST_OWN_RECORDS.toLocaleString('en-GB')} records of its own at most.`);
    change('Gave a scene records of its own', (s) => void (s.records = own));
  };
  return (
    <ChoiceChip<Begins>
      name="Records it begins with"
      value={value}
      width={330}
      choices={[
        { value: 'app', label: 'the records of the app', hint: 'as they are then' },
        {
          value: 'own',
          label:
            count > 0
              ? `${count.toLocaleString('en-GB')} ${count === 1 ? 'record' : 'records'} of its own`
              : 'records of its own',
          hint: count > 0 ? 'taken anew' : 'those it names',
        },
        { value: 'none', label: 'people alone', hint: 'no other records' },
      ]}
      onChange={(v) => void take(v)}
    />
  );
}
