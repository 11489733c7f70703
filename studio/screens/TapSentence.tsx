import { PanelsTopLeft, Workflow } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import { partOf } from '../../core/app/names.ts';
import { newId, thisId } from '../../core/document/ids.ts';
import type { Tap } from '../../core/document/pieces.ts';
import { freeName } from '../../core/document/names.ts';
import { OpensHow } from '../chips/OpensHow.tsx';
import { FieldValues } from '../chips/FieldValues.tsx';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { nearestTable, type FormulaPlace } from '../chips/place.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';

const DOES: { value: Tap['do']; label: string }[] = [
  { value: 'nothing', label: 'do nothing' },
  { value: 'open', label: 'open' },
  { value: 'back', label: 'go back' },
  { value: 'routine', label: 'run' },
  { value: 'remove', label: 'remove the record' },
];

/** What a tap does, in a sentence. `inForm` offers saving. */
export function TapSentence({
  tap,
  onChange,
  place,
  inForm = false,
  about,
  when = 'When tapped',
}: {
  tap: Tap;
  onChange(tap: Tap): void;
  place: FormulaPlace;
  inForm?: boolean;
  about: string;
  /** What it answers, as the sentence begins. */
  when?: string;
}) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const given = nearestTable(place);
  // In a part, a tap may be left to its places.
  const { thing } = useParams();
  const decided = partOf(app, thing ?? '')?.inputs.filter((i) => i.isTap) ?? [];

  const begin = (to: Tap['do']): void => {
    if (to === 'open') onChange({ do: 'open', screen: '', give: '' });
    else if (to === 'input') onChange({ do: 'input', input: decided[0]?.id ?? '' });
    else if (to === 'routine') onChange({ do: 'routine', routine: '' });
    else onChange({ do: to } as Tap);
  };
  const openScreen = (id: string): void => {
    const target = app.screens.find((s) => s.id === id);
    const give = target?.given && target.given === given && !target.optional ? thisId(given) : '';
    const { as, height } = tap.do === 'open' ? tap : {};
    onChange({ do: 'open', screen: id, give, ...(as && { as }), ...(height && { height }) });
  };
  const newRoutine = async (): Promise<void> => {
    const id = newId('q');
    const name = freeName(
      about || 'New routine',
      app.routines.map((r) => r.name),
    );
    await edit(`Added the routine ${name}`, (a) => {
      a.routines.push({ id, name, given: given ?? null, steps: [] });
    });
    onChange({ do: 'routine', routine: id });
    await navigate(`${home}/logic/${id}`);
  };
  const runs = tap.do === 'routine' ? app.routines.find((r) => r.id === tap.routine) : undefined;
  const target = tap.do === 'open' ? app.screens.find((s) => s.id === tap.screen) : undefined;
  return (
    <>
      {when},{' '}
      <ChoiceChip
        name={when}
        value={tap.do}
        choices={[
          ...DOES,
          ...(inForm ? [{ value: 'save' as const, label: 'save the form' }] : []),
          ...(decided.length ? [{ value: 'input' as const, label: 'what its place says' }] : []),
        ]}
        onChange={begin}
      />
      {tap.do === 'open' && (
        <>
          {' '}
          <ChoiceChip
            name="Screen"
            value={tap.screen || null}
            empty="choose a screen"
            icon={PanelsTopLeft}
            choices={app.screens.map((s) => ({ value: s.id, label: s.name }))}
            onChange={openScreen}
          />
          {target?.given &&
            (target.optional ? (
              <>
                {' '}
                for{' '}
                <ValueChip
                  name="Record"
                  value={tap.give || 'null'}
                  literals={false}
                  wanted={{ record: target.given }}
                  place={place}
                  onChange={(give) => onChange({ ...tap, give: give === 'null' ? '' : give })}
                />
              </>
            ) : (
              <>
                {' '}
                with{' '}
                <ValueChip
                  name="Record"
                  value={tap.give}
                  empty="choose a record"
                  literals={false}
                  wanted={{ record: target.given }}
                  place={place}
                  onChange={(give) => onChange({ ...tap, give })}
                />
              </>
            ))}
          <OpensHow how={tap} screen={tap.screen} place={place} onChange={(how) => onChange({ ...tap, ...how })} />
        </>
      )}
      {tap.do === 'input' && (
        <>
          {' '}
          as{' '}
          <ChoiceChip
            name="Which tap"
            value={tap.input || null}
            empty="choose which"
            choices={decided.map((i) => ({ value: i.id, label: i.name }))}
            onChange={(input) => onChange({ do: 'input', input })}
          />
        </>
      )}
      {tap.do === 'routine' && (
        <>
          {' '}
          <ChoiceChip
            name="Routine"
            icon={Workflow}
            value={tap.routine || null}
            empty="choose a routine"
            tone="plain"
            choices={[
              ...app.routines
                .filter((r) => !r.given || r.given === given)
                .map((r) => ({ value: r.id, label: r.name, group: 'Routines' })),
              { value: 'new', label: 'a new routine', group: 'New' },
            ]}
            onChange={(id) => (id === 'new' ? void newRoutine() : onChange({ do: 'routine', routine: id }))}
          />
          {runs?.inputs && (
            <>
              {' '}
              with{' '}
              <FieldValues
                fields={runs.inputs}
                values={tap.values ?? []}
                place={place}
                joiner="as"
                onChange={(values) => {
                  const { values: _before, ...rest } = tap;
                  onChange({ ...rest, ...(values.length && { values }) });
                }}
              />
            </>
          )}
          {tap.routine && (
            <button
              type="button"
              className="ml-1 text-sm font-semibold text-kelp hover:underline"
              onClick={() => void navigate(`${home}/logic/${tap.routine}`)}
            >
              look at its steps
            </button>
          )}
        </>
      )}
    </>
  );
}
