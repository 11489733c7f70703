import { Hand, Plus, Trash2 } from 'lucide-react';
import { useNavigate } from 'react-router';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { placesOf, removePart } from '../../core/app/parts.ts';
import type { Part } from '../../core/app/schema.ts';
import { usesOf } from '../../core/app/uses.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { InputLine } from '../variables/InputLine.tsx';
import { UsedBy } from '../variables/UsedBy.tsx';
import { AddInside } from './AddInside.tsx';
import { BoxControls } from './BoxControls.tsx';

/** A part by itself: what its places give to it, how its content runs, and where it stands. */
export function PartDesk({ part }: { part: Part }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const change = (label: string, recipe: (p: Part) => void): void =>
    void edit(label, (a) => {
      const found = a.parts?.find((p) => p.id === part.id);
      if (found) recipe(found as Part);
    });
  const places = placesOf(app, part.id).length;
  const remove = (): void => {
    void edit(`Removed the part ${part.name}`, (a) => removePart(a as typeof app, part.id));
    toastWithUndo(
      `Removed ${part.name}.${places ? ` Where it stood its elements stay, ${places === 1 ? 'in one place' : `in ${places} places`}.` : ''}`,
    );
    void navigate(`${home}/screens`);
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
          <InputLine
            key={i.id}
            input={i}
            of={part.name}
            others={part.inputs.filter((o) => o.id !== i.id).map((o) => o.name)}
            change={(label, next) =>
              change(label, (p) => {
                p.inputs = p.inputs.flatMap((x) => (x.id === i.id ? (next ? [next] : []) : [x]));
              })
            }
          />
        ))}
        <div className="mt-2 flex gap-2">
          <Button small icon={Plus} onClick={() => addInput(false)}>
            A value it is given
          </Button>
          <Button small icon={Hand} onClick={() => addInput(true)}>
            A tap set where it is used
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
