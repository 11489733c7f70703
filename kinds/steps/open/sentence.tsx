import { PanelsTopLeft } from 'lucide-react';
import { thisId } from '../../../core/document/ids.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { OpensHow } from '../../../studio/chips/OpensHow.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'open'>) {
  const app = useApp();
  const screen = app.screens.find((s) => s.id === step.screen);
  const give = (id: string): string => {
    const given = app.screens.find((s) => s.id === id)?.given;
    return given && given === routine.given ? thisId(given) : '';
  };
  return (
    <>
      Open{' '}
      <ChoiceChip
        name="Screen"
        icon={PanelsTopLeft}
        value={step.screen || null}
        empty="choose a screen"
        choices={app.screens.map((s) => ({ value: s.id, label: s.name }))}
        onChange={(id) => onChange({ ...step, screen: id, give: give(id) })}
      />
      {screen?.given && (
        <>
          {' '}
          with{' '}
          <ValueChip
            name="Record"
            value={step.give}
            empty="choose a record"
            literals={false}
            wanted={{ record: screen.given }}
            place={place}
            onChange={(g) => onChange({ ...step, give: g })}
          />
        </>
      )}
      <OpensHow how={step} screen={step.screen} place={place} onChange={(how) => onChange({ ...step, ...how })} />
    </>
  );
}
