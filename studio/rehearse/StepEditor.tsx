import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { App } from '../../core/app/schema.ts';
import { HOWS, type How, type Scene, type SceneStep } from '../../core/app/scene-schema.ts';
import { ownerOf } from '../../core/screens/part-places.ts';
import { memberName } from '../../core/scenes/sentence.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { TextBox } from '../ui/TypedBox.tsx';
import { useHome } from '../state/studio.ts';
import { Part } from './StepPart.tsx';
import { StepValues } from './StepValues.tsx';

export type EditStep = (label: string, recipe: (step: SceneStep) => void, merge?: string) => void;

const NETWORKS = [
  { value: 'on', label: 'a network again' },
  { value: 'slow', label: 'a slow network' },
  { value: 'off', label: 'no network' },
  { value: 'answers lost', label: 'a network that loses answers' },
  { value: 'twice', label: 'a network on which all arrives twice' },
] as const;
const UNITS = [
  { value: 1000, label: 'seconds' },
  { value: 60_000, label: 'minutes' },
  { value: 3_600_000, label: 'hours' },
  { value: 86_400_000, label: 'days' },
] as const;
const SORTS = [
  { value: 'mail', label: 'a mail' },
  { value: 'text message', label: 'a text message' },
  { value: 'notice', label: 'a notice' },
] as const;
const HOW_WORDS: Record<How, string> = { 'is there': 'is there', 'is not there': 'is not there', reads: 'reads' };

/** Corrects what a step says; opens below the step that is selected. */
export function StepEditor({ app, scene, step, edit }: { app: App; scene: Scene; step: SceneStep; edit: EditStep }) {
  const home = useHome();
  const set = (change: Record<string, unknown>, merge?: string): void =>
    edit('Corrected a step', (s) => void Object.assign(s, change), merge);
  const parts: React.ReactNode[] = [];
  if ('who' in step && step.do !== 'comes')
    parts.push(
      <Part key="who" label="Who">
        <ChoiceChip
          name="Who"
          tone="person"
          value={step.who}
          choices={scene.cast.map((c) => ({ value: c.id, label: memberName(app, scene, c.id) }))}
          onChange={(who) => set({ who })}
        />
      </Part>,
    );
  if ('at' in step) {
    const screen = app.screens.find((s) => s.id === step.at.screen);
    if (screen)
      parts.push(
        <Part key="at" label="Where">
          <Link
            to={`${home}/screens/${screen.id}/${ownerOf(step.at.element)}`}
            className="px-2 font-semibold text-kelp hover:underline"
          >
            {screen.name}
          </Link>
        </Part>,
      );
  }
  switch (step.do) {
    case 'wait':
      parts.push(<Span key="span" ms={step.ms} change={(ms) => set({ ms }, 'ms')} />);
      break;
    case 'until':
      parts.push(
        <Part key="time" label="Until">
          <input
            type="time"
            aria-label="Time of day"
            className="field !w-28"
            value={step.time}
            onChange={(e) => e.target.value && set({ time: e.target.value }, 'time')}
          />
          <span className="text-ink-soft">days later</span>
          <input
            type="number"
            min={0}
            max={3660}
            aria-label="Days later"
            className="field !w-20"
            value={step.days}
            onChange={(e) => set({ days: whole(e.target.value, 3660) }, 'days')}
          />
        </Part>,
      );
      break;
    case 'network':
      parts.push(
        <Part key="network" label="The phone has">
          <ChoiceChip name="Network" value={step.network} choices={NETWORKS} onChange={(network) => set({ network })} />
        </Part>,
      );
      break;
    case 'clock':
      parts.push(
        <Part key="ahead" label="Its clock is ahead by">
          <input
            type="number"
            aria-label="Minutes ahead"
            className="field !w-24"
            value={step.ahead / 60_000}
            onChange={(e) => set({ ahead: Math.round(Number(e.target.value) || 0) * 60_000 }, 'ahead')}
          />
          <span className="text-ink-soft">minutes; less than 0 is behind</span>
        </Part>,
      );
      break;
    case 'mail':
      parts.push(
        <Words key="from" label="From" value={step.from} most={254} change={(from) => set({ from }, 'from')} />,
        <Words key="name" label="Name" value={step.name} most={200} change={(name) => set({ name }, 'name')} />,
        <Words
          key="subject"
          label="Subject"
          value={step.subject}
          most={1000}
          change={(subject) => set({ subject }, 'subject')}
        />,
        <Words
          key="words"
          label="Words"
          value={step.words}
          most={100_000}
          long
          change={(words) => set({ words }, 'words')}
        />,
      );
      break;
    case 'call':
      parts.push(
        <Words
          key="body"
          label="It sends"
          value={step.body}
          most={100_000}
          long
          change={(body) => set({ body }, 'body')}
        />,
      );
      break;
    case 'signs in':
      parts.push(
        <Words key="mail" label="Address" value={step.mail} most={254} change={(mail) => set({ mail }, 'mail')} />,
      );
      break;
    case 'save':
    case 'fill':
      parts.push(
        <StepValues
          key="values"
          app={app}
          table={step.table}
          values={step.values}
          change={(values) => set({ values }, 'values')}
        />,
      );
      break;
    case 'type':
      parts.push(
        <Words
          key="cell"
          label="Types"
          value={String(step.cell ?? '')}
          most={20_000}
          change={(text) =>
            set(
              {
                cell:
                  typeof step.cell === 'number' && Number.isFinite(Number(text)) && text !== '' ? Number(text) : text,
              },
              'cell',
            )
          }
        />,
      );
      break;
    case 'expect seen':
      parts.push(
        <HowPart key="how" how={step.how} hows={HOWS} change={(how) => set({ how })} />,
        step.how === 'reads' && (
          <Words
            key="words"
            label="It reads"
            value={step.words}
            most={2000}
            long
            change={(words) => set({ words }, 'words')}
          />
        ),
      );
      break;
    case 'expect told':
      parts.push(
        <HowPart key="how" how={step.how} hows={['is there', 'is not there']} change={(how) => set({ how })} />,
        <Words key="words" label="Words" value={step.words} most={2000} change={(words) => set({ words }, 'words')} />,
      );
      break;
    case 'expect refused':
      parts.push(
        <Words
          key="words"
          label="Because"
          value={step.words}
          most={2000}
          change={(words) => set({ words }, 'words')}
        />,
      );
      break;
    case 'expect sent':
      parts.push(
        <Part key="sort" label="What">
          <ChoiceChip name="What goes out" value={step.sort} choices={SORTS} onChange={(sort) => set({ sort })} />
          <HowChip how={step.how} hows={['is there', 'is not there']} change={(how) => set({ how })} />
        </Part>,
        <Words key="to" label="To" value={step.to} most={500} change={(to) => set({ to }, 'to')} />,
        <Words
          key="words"
          label="With the words"
          value={step.words}
          most={2000}
          change={(words) => set({ words }, 'words')}
        />,
      );
      break;
    case 'expect record':
      parts.push(<RecordPart key="record" app={app} step={step} set={set} />);
  }
  if (parts.every((p) => !p)) return null;
  return <div className="space-y-1.5 pt-1.5 pb-1">{parts}</div>;
}

const whole = (text: string, most: number): number => Math.max(0, Math.min(most, Math.round(Number(text) || 0)));

function RecordPart({
  app,
  step,
  set,
}: {
  app: App;
  step: Extract<SceneStep, { do: 'expect record' }>;
  set(change: Record<string, unknown>, merge?: string): void;
}) {
  const table = app.tables.find((t) => t.id === step.of.table);
  return (
    <>
      <Part label="Record">
        <ChoiceChip
          name="Table"
          value={step.of.table}
          choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
          onChange={(t) => set({ of: { table: t, record: '', name: '' }, field: undefined, how: 'is there' })}
        />
        <input
          aria-label="Name of the record"
          className="field max-w-64"
          placeholder="Its name"
          value={step.of.name}
          // Another name is another record: it is found by that.
          onChange={(e) => set({ of: { ...step.of, record: '', name: e.target.value.slice(0, 2000) } }, 'name')}
        />
        <HowChip how={step.how} hows={HOWS} change={(how) => set({ how })} />
      </Part>
      {step.how === 'reads' && (
        <Part label="Field">
          <ChoiceChip
            name="Field"
            value={step.field ?? null}
            choices={(table?.fields ?? []).map((f) => ({ value: f.id, label: f.name }))}
            onChange={(field) => set({ field })}
          />
          <input
            aria-label="What it reads"
            className="field max-w-64"
            value={step.words}
            onChange={(e) => set({ words: e.target.value.slice(0, 2000) }, 'words')}
          />
        </Part>
      )}
    </>
  );
}

function HowPart<H extends How>({ how, hows, change }: { how: H; hows: readonly H[]; change(how: H): void }) {
  return (
    <Part label="It">
      <HowChip how={how} hows={hows} change={change} />
    </Part>
  );
}

function HowChip<H extends How>({ how, hows, change }: { how: H; hows: readonly H[]; change(how: H): void }) {
  return (
    <ChoiceChip
      name="What is expected of it"
      value={how}
      choices={hows.map((h) => ({ value: h, label: HOW_WORDS[h] }))}
      onChange={change}
    />
  );
}

function Words({
  label,
  value,
  most,
  long = false,
  change,
}: {
  label: string;
  value: string;
  most: number;
  long?: boolean;
  change(value: string): void;
}) {
  const props = {
    'aria-label': label,
    value,
    maxLength: most,
    onChange: (e: { target: { value: string } }) => change(e.target.value),
  };
  return (
    <div className="flex items-start gap-2">
      <span className="w-[104px] shrink-0 pt-1.5 text-sm text-ink-soft">{label}</span>
      {long ? (
        <textarea
          rows={2}
          className="field field-sizing-content max-h-40 min-w-0 flex-1 resize-none py-1.5"
          {...props}
        />
      ) : (
        <TextBox label={label} className="min-w-0 flex-1" value={value} maxLength={most} onChange={change} />
      )}
    </div>
  );
}

/** A span of time by a number and a unit. */
function Span({ ms, change }: { ms: number; change(ms: number): void }) {
  const fitting = UNITS.findLast((u) => ms >= u.value && ms % u.value === 0) ?? UNITS[0];
  const [unit, setUnit] = useState<number>(fitting.value);
  const [text, setText] = useState(String(ms / unit));
  useEffect(() => {
    if (Math.round(Number(text) * unit) !== ms) setText(String(ms / unit));
  }, [ms]);
  const take = (of: string, by: number): void => {
    const n = Number(of.replace(',', '.'));
    if (of.trim() !== '' && Number.isFinite(n) && n >= 0) change(Math.min(3_660 * 86_400_000, Math.round(n * by)));
  };
  return (
    <Part label="So long">
      <input
        inputMode="decimal"
        aria-label="How long"
        className="field !w-24"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          take(e.target.value, unit);
        }}
      />
      <ChoiceChip
        name="Unit"
        value={unit}
        choices={UNITS.map((u) => ({ value: u.value as number, label: u.label }))}
        onChange={(u) => {
          setUnit(u);
          take(text, u);
        }}
      />
    </Part>
  );
}
