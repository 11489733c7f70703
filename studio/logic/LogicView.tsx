import {
  Bell,
  CalendarClock,
  ClipboardCheck,
  Database,
  Footprints,
  Hand,
  Inbox,
  Mail,
  PanelsTopLeft,
  PencilLine,
  Play,
  Plus,
  Server,
  Smartphone,
  Timer,
  Trash2,
  TrendingUp,
  Variable,
  Webhook,
  Workflow,
  type LucideIcon,
  TriangleAlert,
  UserRound,
} from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { usesInWords, usesOf } from '../../core/app/uses.ts';
import type { App, Routine } from '../../core/app/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { elementName } from '../../core/app/names.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { usePhone } from '../state/phone.ts';
import { PastRuns } from './PastRuns.tsx';
import { useStepping } from '../state/stepping.ts';
import { useTrace } from '../state/trace.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button, Empty, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import type { RunTrace } from '../../core/routines/run.ts';
import type { Starter } from '../../core/routines/trigger.ts';
import { TRIGGERS } from '../../kinds/triggers/index.ts';
import { Board } from './Board.tsx';
import { Mailbox } from './Mailbox.tsx';
import { RoutineChoices } from './RoutineChoices.tsx';
import { RoutineInputs } from './RoutineInputs.tsx';
import { PausedBar, walkHas } from './PausedBar.tsx';
import { Steps } from './Steps.tsx';
import { TriedCard } from './TriedCard.tsx';
import { VariableDesk } from '../variables/VariableDesk.tsx';
import { VariablesGroup } from '../variables/VariablesGroup.tsx';
import { Triggers } from './Triggers.tsx';

const ICONS: Record<(typeof TRIGGERS)[number]['on'], LucideIcon> = {
  tap: Hand,
  'screen opened': PanelsTopLeft,
  'screen returned': PanelsTopLeft,
  'screen left': PanelsTopLeft,
  'app started': Smartphone,
  form: ClipboardCheck,
  'variable changed': Variable,
  'field changed': PencilLine,
  timer: Timer,
  'notice opened': Bell,
  'record changed': Database,
  'record becomes': TrendingUp,
  clock: CalendarClock,
  'date reached': CalendarClock,
  'mail came': Mail,
  'person came': UserRound,
  'run failed': TriangleAlert,
  'hook called': Webhook,
  routine: Workflow,
};

type Started = Starter & { group: string };

/** Everything that starts a routine, by the kind of its trigger. */
const startersOf = (app: App, routine: string): Started[] =>
  TRIGGERS.flatMap((t) =>
    t.starters(app, routine, (e) => elementName(app, e)).map((s) => ({ ...s, group: t.said.group })),
  );

/** The Logic workspace: routines, and the steps of one in sentences with the values of its last run. */
export function LogicView() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const { thing } = useParams();
  const routine = app.routines.find((r) => r.id === thing) ?? app.routines[0];
  const base = `${home}/logic`;
  const isBoard = thing === 'board';
  const isMailbox = thing === 'mailbox';
  const variable = app.variables?.find((v) => v.id === thing);
  const starters = useMemo(() => new Map(app.routines.map((r) => [r.id, startersOf(app, r.id)])), [app]);
  const idle = app.routines.filter((r) => starters.get(r.id)!.length === 0);

  const add = (): void => {
    const id = newId('q');
    const name = freeName(
      'New routine',
      app.routines.map((r) => r.name),
    );
    void edit(`Added the routine ${name}`, (a) => {
      a.routines.push({ id, name, given: a.tables[0]?.id ?? null, steps: [] });
    }).then(() => navigate(`${base}/${id}`));
  };
  return (
    <>
      <Index label="Routines">
        <IndexGroup title="On the server">
          <IndexItem to={`${base}/board`} icon={Server} name="Board" selected={isBoard} />
          <IndexItem to={`${base}/mailbox`} icon={Inbox} name="Mailbox" selected={isMailbox} />
        </IndexGroup>
        {TRIGGERS.filter((t) => t === TRIGGERS.find((o) => o.said.group === t.said.group)).map(({ on, said }, i) => {
          const started = app.routines.filter((r) => starters.get(r.id)![0]?.group === said.group);
          if (i > 0 && started.length === 0) return null;
          return (
            <IndexGroup key={said.group} title={said.group} {...(i === 0 && { onAdd: add, addLabel: 'Add a routine' })}>
              {started.map((r) => (
                <IndexItem
                  key={r.id}
                  to={`${base}/${r.id}`}
                  icon={ICONS[on]}
                  name={r.name}
                  hint={app.screens.find((s) => s.id === starters.get(r.id)![0]!.screen)?.name}
                  selected={r.id === routine?.id && !variable && !isBoard && !isMailbox}
                />
              ))}
              {started.length === 0 && <li className="px-2 py-1 text-sm text-ink-faint">None yet</li>}
            </IndexGroup>
          );
        })}
        {idle.length > 0 && (
          <IndexGroup title="Not started by anything">
            {idle.map((r) => (
              <IndexItem
                key={r.id}
                to={`${base}/${r.id}`}
                icon={Workflow}
                name={r.name}
                selected={r.id === routine?.id && !variable && !isBoard && !isMailbox}
              />
            ))}
          </IndexGroup>
        )}
        <VariablesGroup base={base} selected={thing} />
      </Index>
      <main className="thin-scroll min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[820px]">
          {isBoard ? (
            <Board />
          ) : isMailbox ? (
            <Mailbox />
          ) : variable ? (
            <VariableDesk key={variable.id} variable={variable} base={base} />
          ) : routine ? (
            <RoutineDesk key={routine.id} routine={routine} starters={starters.get(routine.id)!} />
          ) : (
            <Empty
              title="Nothing happens yet"
              words="A routine says what happens after a tap: set fields, add a record, send mail, open a screen."
            >
              <Button look="main" icon={Plus} onClick={add}>
                Add a routine
              </Button>
            </Empty>
          )}
        </div>
      </main>
    </>
  );
}

function RoutineDesk({ routine, starters: all }: { routine: Routine; starters: ReturnType<typeof startersOf> }) {
  // What is kept with the routine stands below, where it can be changed.
  const starters = all.filter((s) => s.element !== undefined || s.routine !== undefined);
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const runCounts = useTrace((s) => s.runCounts);
  const navigate = useNavigate();
  const counts = runCounts[routine.id];
  const change = (label: string, recipe: (r: Routine) => void, merge?: string): void =>
    void edit(
      label,
      (a) => {
        recipe(a.routines.find((r) => r.id === routine.id)! as Routine);
      },
      merge ? { merge } : {},
    );
  const remove = (): void => {
    const uses = usesOf(app, [routine.id]);
    void edit(`Removed the routine ${routine.name}`, (a) => {
      a.routines = a.routines.filter((r) => r.id !== routine.id);
    });
    toastWithUndo(`Removed ${routine.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`);
    void navigate(`${home}/logic`);
  };
  const given = app.tables.find((t) => t.id === routine.given);
  const runs = useTrace((s) => s.runs);
  const past = runs[routine.id] ?? [];
  const [chosen, setChosen] = useState<number | null>(null);
  const shown = past.find((p) => p.key === chosen) ?? past[0];
  const place = usePhone((s) => s.place);
  // The record of the screen that the phone shows, when that is of the right table.
  const onPhone = app.screens.find((s) => s.id === place?.screen)?.given === routine.given ? place?.record : null;
  const run = (record?: string | null, values?: RunTrace['values'], stepwise = false): void => {
    setChosen(null);
    void engine.runs.try(routine.id, record, values, stepwise);
  };
  const stops = useStepping((s) => s.stops);
  useEffect(() => void engine.runs.stopBefore([...stops]), [engine, stops]);
  const paused = useStepping((s) => s.paused);
  const isHere = paused && walkHas(routine.steps, paused.step);
  return (
    <>
      <header className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="max-w-full min-w-0 text-xl">
          <NameField
            value={routine.name}
            label="Name of the routine"
            onChange={(n) =>
              change(`Renamed ${routine.name} to ${n}`, (r) => {
                r.name = n;
              })
            }
            className="truncate"
          />
        </h1>
        <span className="min-w-0 flex-1 truncate text-ink-soft">
          {counts
            ? `${counts.runs} ${counts.runs === 1 ? 'run' : 'runs'}${counts.failed ? `, ${counts.failed} failed` : ''}`
            : ''}
        </span>
        <IconButton icon={Trash2} label="Remove this routine" onClick={remove} />
        {given && (
          <Button
            icon={Smartphone}
            disabled={routine.steps.length === 0 || !onPhone}
            onClick={() => run(onPhone!)}
            aria-label={`Try with the phone’s ${given.one}`}
            title={`Tries it with the ${given.one} that the phone shows, on a copy of the records`}
          >
            <span className="max-w-60 truncate max-[1150px]:hidden">Try with the phone’s {given.one}</span>
          </Button>
        )}
        <IconButton
          icon={Footprints}
          label="Try step by step"
          disabled={routine.steps.length === 0}
          onClick={() => run(undefined, undefined, true)}
        />
        <Button
          icon={Play}
          disabled={routine.steps.length === 0}
          onClick={() => run()}
          title={`Tries it${given ? ` with the first ${given.one}` : ''} on a copy of the records`}
        >
          Try with sample
        </Button>
      </header>
      <div className="sentence mb-3">
        <p>
          {starters.length > 0 ? (
            <>
              Starts when{' '}
              {starters.map((s, i) => (
                <span key={`${s.screen} ${s.element} ${s.routine}`}>
                  {i > 0 && ' or '}
                  <button
                    type="button"
                    className="font-semibold text-ink underline decoration-line-strong underline-offset-4"
                    onClick={() =>
                      void navigate(
                        s.routine ? `${home}/logic/${s.routine}` : `${home}/screens/${s.screen}/${s.element ?? ''}`,
                      )
                    }
                  >
                    {s.said}
                  </button>
                </span>
              ))}
              , with{' '}
            </>
          ) : routine.starts ? (
            'It works with '
          ) : (
            'Nothing starts it yet: choose it on a button in Screens, or below. It works with '
          )}
          <ChoiceChip
            name="Record"
            tone={given ? 'data' : 'plain'}
            value={routine.given ?? ''}
            choices={[
              { value: '', label: 'no record' },
              ...app.tables.map((t) => ({ value: t.id, label: `this ${t.one}` })),
            ]}
            onChange={(v) =>
              change(`${routine.name} is given something else`, (r) => {
                r.given = v || null;
              })
            }
          />
          .
        </p>
        <RoutineChoices routine={routine} isTapped={starters.some((s) => s.element !== undefined)} change={change} />
      </div>
      <RoutineInputs routine={routine} change={change} />
      <Triggers routine={routine} change={change} />
      {past.length > 0 && (
        <PastRuns past={past} shown={shown} onShow={setChosen} again={(past) => run(past.record, past.values)} />
      )}
      {shown?.run.tried && !isHere && <TriedCard key={shown.key} routine={routine.name} tried={shown.run.tried} />}
      {paused && <PausedBar paused={paused} isHere={Boolean(isHere)} base={`${home}/logic`} />}
      <Steps routine={routine} run={isHere ? paused.trace : shown?.run} />
    </>
  );
}
