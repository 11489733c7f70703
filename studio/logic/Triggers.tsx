import { CirclePlus, X } from 'lucide-react';
import type { Routine, Trigger } from '../../core/app/schema.ts';
import { TRIGGERS } from '../../kinds/triggers/index.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';
import { TRIGGER_WORDS } from '../../kinds/triggers/search-words.ts';
import { ChoiceList } from '../chips/ChoiceChip.tsx';
import { PropertyControl } from '../screens/DefaultDesk.tsx';
import { labelOf } from '../screens/properties.ts';
import { aboutGiven, HostTrigger, isHostTrigger } from './HostTrigger.tsx';
import { looksAtChanges, NextDate, WouldHaveStarted } from './WouldHaveStarted.tsx';
import { AddInput } from './RoutineInputs.tsx';
import { useApp } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';

/** What starts a routine besides taps, each as a sentence with its places to fill in. */
export function Triggers({
  routine,
  change,
}: {
  routine: Routine;
  change(label: string, recipe: (r: Routine) => void, merge?: string): void;
}) {
  const app = useApp();
  const starts = routine.starts ?? [];
  const offered = TRIGGERS.filter((t) => 'begin' in t);
  const set = (i: number, more: object): void =>
    change(`Changed what starts ${routine.name}`, (r) => {
      const next = Object.entries({ ...r.starts![i]!, ...more }).filter(([, v]) => v !== undefined);
      r.starts![i] = Object.fromEntries(next) as unknown as Trigger;
    });
  return (
    <div className="mb-3">
      {starts.map((t, i) => {
        const definition = triggerKinds.get(t.on)!;
        return (
          <p key={i} className="sentence">
            {isHostTrigger(t) ? (
              <>
                Starts on the server, <HostTrigger trigger={t} routine={routine.id} change={(more) => set(i, more)} />
                {t.on === 'date reached' && <NextDate routine={routine.id} at={i} trigger={t} />}
                {looksAtChanges(t) && <WouldHaveStarted routine={routine.id} at={i} trigger={t} />}
              </>
            ) : (
              `Starts when ${definition.said.name}: `
            )}
            {!isHostTrigger(t) &&
              Object.entries(definition.properties).map(([name, p]) => (
                <span key={name}>
                  <span className="sr-only">{labelOf(p)}</span>
                  <PropertyControl
                    p={p}
                    value={(t as unknown as Record<string, unknown>)[name]}
                    place={{ self: null, things: [] }}
                    held={t as unknown as Record<string, unknown>}
                    onChange={(v) => set(i, { [name]: v })}
                  />
                </span>
              ))}
            <button
              type="button"
              aria-label={`Does not start when ${definition.said.name}`}
              onClick={() =>
                change(`Took off what starts ${routine.name}`, (r) => {
                  r.starts = r.starts!.filter((_, k) => k !== i);
                  if (r.starts.length === 0) delete r.starts;
                })
              }
              className="ml-1 inline-grid size-5 place-items-center rounded align-middle text-ink-faint hover:bg-sunk"
            >
              <X size={12} aria-hidden />
            </button>
          </p>
        );
      })}
      <div className="flex flex-wrap gap-x-3">
        <Popover
          trigger={
            <button
              type="button"
              className="flex h-8 items-center gap-2 rounded-control px-1.5 text-ink-soft hover:bg-sunk/70 hover:text-ink"
            >
              <CirclePlus size={15} aria-hidden /> Start it also when
            </button>
          }
        >
          {(close) => (
            <ChoiceList
              placeholder="Search what starts it"
              choices={offered.map((d) => ({
                value: d,
                label: d.said.name,
                group: d.at === 'host' ? 'On the server, without a phone' : 'On a phone',
                words: TRIGGER_WORDS[d.on],
              }))}
              onChoose={(d) => {
                close();
                change(`Added what starts ${routine.name}`, (r) => {
                  const begun = { on: d.on, ...d.begin!(app) } as Trigger;
                  r.starts = [...(r.starts ?? []), aboutGiven(app, routine, begun)];
                });
              }}
            />
          )}
        </Popover>
        <AddInput routine={routine} change={change} />
      </div>
    </div>
  );
}
