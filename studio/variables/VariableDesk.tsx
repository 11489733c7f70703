import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { screenOf } from '../../core/app/names.ts';
import { usesInWords, usesOf } from '../../core/app/uses.ts';
import {
  kindOfVariable,
  removeVariable,
  renameVariable,
  setVariableKind,
  VARIABLE_KINDS,
  type VariableKind,
} from '../../core/app/variables.ts';
import type { Lasts, Variable } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { IconButton, Line } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { NumberBox } from '../ui/TypedBox.tsx';
import { UsedBy } from './UsedBy.tsx';
import { useVariableValues } from './VariablesGroup.tsx';

const NOWHERE = { self: null, things: [] };
/** Inputs of these can be sliders, which need a least and a most. */
const RANGED = new Set<VariableKind>(['number', 'money', 'percent']);

/** One variable in sentences: what it keeps, how long, what it begins with, and what it holds now. */
export function VariableDesk({ variable: v, base }: { variable: Variable; base: string }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const now = useVariableValues()[v.id];
  const kind = kindOfVariable(v);
  const uses = usesOf(app, [v.id]);
  const change: Change = (label, recipe) =>
    void edit(
      label,
      (a) => {
        const found = a.variables?.find((x) => x.id === v.id);
        if (found) recipe(found as Variable);
      },
      // A number that is typed is one step.
      { merge: `${v.id}: ${label}` },
    );
  const remove = (): void => {
    void edit(`Removed the variable ${v.name}`, (a) => removeVariable(a, v.id));
    toastWithUndo(`Removed ${v.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`);
    void navigate(base);
  };
  return (
    <>
      <header className="mb-3 flex items-center gap-3">
        <h1 className="min-w-0 flex-1 text-xl">
          <NameField
            value={v.name}
            label="Name of the variable"
            onChange={(n) => void edit(`Renamed ${v.name} to ${n}`, (a) => renameVariable(a, v.id, n))}
            className="truncate"
          />
        </h1>
        <IconButton icon={Trash2} label="Remove this variable" onClick={remove} />
      </header>
      <section className="card sentence mb-3.5 px-4 py-3">
        <p>
          It keeps{' '}
          <ChoiceChip
            name="What it keeps"
            value={kind}
            choices={(Object.keys(VARIABLE_KINDS) as VariableKind[])
              .filter((k) => app.tables.length > 0 || (k !== 'record' && k !== 'records'))
              .map((value) => ({ value, label: VARIABLE_KINDS[value] }))}
            onChange={(k) => void edit(`${v.name} keeps ${VARIABLE_KINDS[k]}`, (a) => setVariableKind(a, v.id, k))}
          />{' '}
          {v.link && (
            <>
              of{' '}
              <ChoiceChip
                name="Table"
                tone="data"
                value={v.link.table}
                choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
                onChange={(table) =>
                  change(`${v.name} keeps records of another table`, (x) => {
                    x.link = { ...x.link!, table };
                    x.first = '';
                  })
                }
              />{' '}
            </>
          )}
          <LastsChip v={v} change={change} />.
        </p>
        <p>
          It begins with{' '}
          <ValueChip
            name="First value"
            value={v.first}
            empty="nothing"
            optional
            field={v}
            wanted={v.link ? (v.several ? { records: v.link.table } : { record: v.link.table }) : 'value'}
            literals={!v.link}
            place={NOWHERE}
            onChange={(first) =>
              change(`${v.name} begins with another value`, (x) => {
                x.first = first;
              })
            }
          />
          {v.first && (
            <button
              type="button"
              className="ml-1 text-sm text-ink-soft underline decoration-line-strong underline-offset-4"
              onClick={() =>
                change(`${v.name} begins with nothing`, (x) => {
                  x.first = '';
                })
              }
            >
              rather with nothing
            </button>
          )}{' '}
          and holds <b className="font-semibold text-kelp">{now || 'nothing'}</b> now.
        </p>
      </section>
      {(kind === 'choice' || RANGED.has(kind)) && (
        <section className="card mb-3.5 px-4 py-3">
          {kind === 'choice' ? <Choices v={v} change={change} /> : <Range v={v} change={change} />}
        </section>
      )}
      <UsedBy
        uses={uses}
        none="Nothing yet. An input can fill it in, a step can set it, and words, conditions and formulas can read it."
      />
    </>
  );
}

type Change = (label: string, recipe: (v: Variable) => void) => void;

function LastsChip({ v, change }: { v: Variable; change: Change }) {
  const app = useApp();
  const screens = app.screens.map((s) => ({ value: s.id, label: `as long as ${s.name} is open` }));
  return (
    <ChoiceChip
      name="How long"
      width={320}
      value={v.lasts === 'screen' ? (v.screen ?? '') : v.lasts}
      {...(v.screen && !screenOf(app, v.screen) && { label: 'as long as a screen is open that is gone' })}
      choices={[
        { value: 'app', label: 'until the app is closed' },
        { value: 'device', label: 'on this device, for good' },
        ...screens,
      ]}
      onChange={(how) =>
        change(`${v.name} lasts another time`, (x) => {
          const isScreen = how !== 'app' && how !== 'device';
          x.lasts = isScreen ? 'screen' : (how as Lasts);
          if (isScreen) x.screen = how;
          else delete x.screen;
        })
      }
    />
  );
}

function Choices({ v, change }: { v: Variable; change: Change }) {
  const names = (v.choices ?? []).map((c) => c.name).join('\n');
  const [text, setText] = useState(names);
  const keep = (): void => {
    const list = [...new Set(text.split('\n').flatMap((s) => s.trim() || []))];
    if (list.join('\n') !== names)
      change(`Changed the choices of ${v.name}`, (x) => {
        x.choices = list.map((name, i) => ({ name, colour: i % 8 }));
      });
  };
  return (
    <label className="block">
      <span className="text-sm text-ink-soft">Its choices, one a line</span>
      <textarea
        className="field mt-1 field-sizing-content min-h-20 w-full"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={keep}
      />
    </label>
  );
}

function Range({ v, change }: { v: Variable; change: Change }) {
  const bound = (key: 'least' | 'most' | 'decimals', label: string) => (
    <Line label={label}>
      <NumberBox
        label={label}
        className="!w-24"
        placeholder="none"
        optional
        {...(key === 'decimals' && { least: 0, most: 6, whole: true })}
        value={v[key]}
        onChange={(n) =>
          change(`Changed ${label.toLowerCase()} for ${v.name}`, (x) => {
            if (n === undefined) delete x[key];
            else x[key] = n;
          })
        }
      />
    </Line>
  );
  return (
    <div className="flex flex-wrap gap-x-6">
      {bound('least', 'At least')}
      {bound('most', 'At most')}
      {bound('decimals', 'Decimals')}
    </div>
  );
}
