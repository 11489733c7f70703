import { Hand, Plus, Trash2, X } from 'lucide-react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { placesOf, removePart } from '../../core/app/parts.ts';
import type { Part } from '../../core/app/schema.ts';
import { usesOf } from '../../core/app/uses.ts';
import { VARIABLE_KINDS, kindOfVariable, type VariableKind } from '../../core/app/variables.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { UsedBy } from '../variables/UsedBy.tsx';
import { AddInside } from './AddInside.tsx';
import { BoxControls } from './BoxControls.tsx';

const NOWHERE = { self: null, things: [] };
type Input = Part['inputs'][number];

/** A part by itself: what its places give to it, how its content runs, and where it stands. */
export function PartDesk({ part }: { part: Part }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const kept = useStudio((s) => s.kept);
  const navigate = useNavigate();
  const change = (label: string, recipe: (p: Part) => void): void =>
    void edit(label, (a) => {
      const found = a.parts?.find((p) => p.id === part.id);
      if (found) recipe(found as Part);
    });
  const places = placesOf(app, part.id).length;
  const remove = (): void => {
    void edit(`Removed the part ${part.name}`, (a) => removePart(a as typeof app, part.id));
    toast(
      `Removed ${part.name}.${places ? ` Where it stood its elements stay, ${places === 1 ? 'in one place' : `in ${places} places`}.` : ''}`,
      { action: { label: 'Undo', onClick: () => void useStudio.getState().undo() }, duration: 8000 },
    );
    void navigate(`/app/${kept!.id}/screens`);
  };
  const addInput = (isTap: boolean): void =>
    change(`Gave ${part.name} an input`, (p) => {
      const name = freeName(
        isTap ? 'when tapped' : 'value',
        p.inputs.map((i) => i.name),
      );
      p.inputs.push({ id: newId('i'), name, type: 'text', first: '', ...(isTap && { isTap: true as const }) });
    });
  return (
    <>
      <header className="mb-3 flex items-center gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="text-xl">
            <NameField
              value={part.name}
              label="Name of the part"
              onChange={(n) =>
                change(`Renamed ${part.name} to ${n}`, (p) => {
                  p.name = n;
                })
              }
              className="truncate"
            />
          </h1>
          <p className="text-sm text-ink-faint">A part: a change here reaches every place of it</p>
        </div>
        <IconButton icon={Trash2} label="Remove this part" onClick={remove} />
        <AddInside screen={part} at={part.root} inside main />
      </header>
      <section className="card sentence mb-3.5 px-4 py-3">
        {part.inputs.length === 0 && <p>Its places give it nothing: it is the same everywhere.</p>}
        {part.inputs.map((i) => (
          <InputLine key={i.id} part={part} input={i} change={change} />
        ))}
        <div className="mt-2 flex gap-2">
          <Button small icon={Plus} onClick={() => addInput(false)}>
            A value it is given
          </Button>
          <Button small icon={Hand} onClick={() => addInput(true)}>
            A tap its places decide
          </Button>
        </div>
      </section>
      <BoxControls element={part.root} screen={part} />
      <div className="mt-3.5">
        <UsedBy uses={usesOf(app, [part.id])} none="It stands nowhere yet. Add offers it on every screen." />
      </div>
    </>
  );
}

function InputLine({
  part,
  input: i,
  change,
}: {
  part: Part;
  input: Input;
  change(label: string, recipe: (p: Part) => void): void;
}) {
  const app = useApp();
  const set = (label: string, recipe: (i: Input) => void): void =>
    change(label, (p) => {
      const found = p.inputs.find((x) => x.id === i.id);
      if (found) recipe(found);
    });
  const setKind = (kind: VariableKind): void =>
    change(`${i.name} is ${VARIABLE_KINDS[kind]}`, (p) => {
      const at = p.inputs.findIndex((x) => x.id === i.id);
      const base = { id: i.id, name: i.name, first: '' };
      const isRecord = kind === 'record' || kind === 'records';
      p.inputs[at] = isRecord
        ? {
            ...base,
            type: 'link',
            link: { kind: 'picked', table: app.tables[0]?.id ?? '', backName: '' },
            ...(kind === 'records' && { several: true }),
          }
        : { ...base, type: kind };
    });
  return (
    <p className="group/input">
      {i.isTap ? 'A tap' : 'It is given'}{' '}
      {!i.isTap && (
        <>
          <ChoiceChip
            name={`Kind of ${i.name}`}
            value={kindOfVariable({ ...i, lasts: 'app' })}
            choices={(Object.keys(VARIABLE_KINDS) as VariableKind[])
              .filter((k) => app.tables.length > 0 || (k !== 'record' && k !== 'records'))
              .map((value) => ({ value, label: VARIABLE_KINDS[value] }))}
            onChange={setKind}
          />{' '}
          {i.link && (
            <>
              of{' '}
              <ChoiceChip
                name={`Table of ${i.name}`}
                tone="data"
                value={i.link.table}
                choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
                onChange={(table) =>
                  set(`${i.name} is of another table`, (x) => {
                    x.link = { ...x.link!, table };
                    x.first = '';
                  })
                }
              />{' '}
            </>
          )}
        </>
      )}
      called{' '}
      <b className="font-semibold text-ink">
        <NameField
          value={i.name}
          label="Name of the input"
          onChange={(n) =>
            set(`Renamed ${i.name} to ${n}`, (x) => {
              x.name = freeName(
                n,
                part.inputs.filter((o) => o.id !== i.id).map((o) => o.name),
              );
            })
          }
        />
      </b>
      {!i.isTap && (
        <>
          , beginning with{' '}
          <ValueChip
            name={`First value of ${i.name}`}
            value={i.first}
            empty="nothing"
            optional
            field={i}
            wanted={i.link ? (i.several ? { records: i.link.table } : { record: i.link.table }) : 'value'}
            literals={!i.link}
            place={NOWHERE}
            onChange={(first) =>
              set(`${i.name} begins with another value`, (x) => {
                x.first = first;
              })
            }
          />
        </>
      )}
      <button
        type="button"
        aria-label={`Remove the input ${i.name}`}
        onClick={() =>
          change(`Took the input ${i.name} off ${part.name}`, (p) => {
            p.inputs = p.inputs.filter((x) => x.id !== i.id);
          })
        }
        className="ml-1 inline-grid size-5 place-items-center rounded align-middle text-ink-faint opacity-0 group-hover/input:opacity-100 hover:bg-sunk focus-visible:opacity-100"
      >
        <X size={12} aria-hidden />
      </button>
    </p>
  );
}
