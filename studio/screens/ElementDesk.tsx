import { ArrowDown, ArrowUp, BoxSelect, Component, Copy, Trash2, Ungroup } from 'lucide-react';
import { Fragment, type ComponentType } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { insideOf, placeOf } from '../../core/app/edits.ts';
import { elementName, kindName } from '../../core/app/names.ts';
import { makePart } from '../../core/app/parts.ts';
import type { Element, Part, Screen } from '../../core/app/schema.ts';
import { useModel } from '../state/model.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { AddInside } from './AddInside.tsx';
import { ByValues } from './ByValues.tsx';
import { DefaultDesk } from './DefaultDesk.tsx';
import type { DeskProps } from './ElementFrame.tsx';
import * as on from './selected.ts';
import { useElementEdit } from './useElementEdit.ts';

// One file a kind; a kind without one has the default desk.
const desks = import.meta.glob<{ default: ComponentType<DeskProps<never>> }>('../../kinds/elements/*/desk.tsx', {
  eager: true,
});

/** The selected element, in sentences and compact controls. */
export function ElementDesk({ screen, element }: { screen: Screen; element: Element }) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const set = useElementEdit<Element>(element);
  const at = placeOf(app, element.id);
  const name = elementName(app, element);
  const to = (id: string): void => void navigate(`${home}/screens/${screen.id}/${id}`);
  const Desk = desks[`../../kinds/elements/${element.kind}/desk.tsx`]?.default ?? DefaultDesk;
  const parents: Element[] = [];
  for (let p = at?.parent; p && p.id !== screen.root.id; p = placeOf(app, p.id)?.parent) parents.unshift(p);
  const open = (id: string | null): void => (id ? to(id) : void navigate(`${home}/screens/${screen.id}`));

  const toPart = (): void => {
    let made: Part | string = '';
    void edit(`Made a part of ${name}`, (a) => {
      made = makePart(a as typeof app, model, element.id);
    }).then(() => {
      if (typeof made === 'string') {
        toast(made);
        return;
      }
      toast(`${made.name} is a part now. Add offers it on every screen.`);
      void navigate(`${home}/screens/${made.id}`);
    });
  };
  return (
    <>
      <header className="mb-3 flex items-center gap-1.5">
        <div className="min-w-0 flex-1">
          <h1 className="flex items-baseline gap-2 text-xl">
            <NameField value={name} label="Name of the element" onChange={(n) => set('name', n)} className="truncate" />
          </h1>
          <p className="text-sm text-ink-faint">
            {screen.name}
            {parents.map((p) => (
              <Fragment key={p.id}>
                {' › '}
                <button type="button" className="underline underline-offset-2 hover:text-ink" onClick={() => to(p.id)}>
                  {elementName(app, p)}
                </button>
              </Fragment>
            ))}
            {' › '}
            {kindName(element.kind)}
          </p>
        </div>
        <IconButton
          icon={ArrowUp}
          label="Move up (Alt and arrow)"
          disabled={!at || at.at <= 0}
          onClick={() => void on.shift(-1, open)}
        />
        <IconButton
          icon={ArrowDown}
          label="Move down (Alt and arrow)"
          disabled={!at || at.at >= at.list.length - 1}
          onClick={() => void on.shift(1, open)}
        />
        {element.kind !== 'part' && <IconButton icon={Component} label="Make a part of it" onClick={toPart} />}
        {element.kind === 'box' ? (
          <IconButton icon={Ungroup} label="Take everything out of it (T)" onClick={() => void on.outOfBox(open)} />
        ) : (
          <IconButton icon={BoxSelect} label="Put into a box (B)" onClick={() => void on.intoBox(open)} />
        )}
        <IconButton icon={Copy} label="Make a copy (D)" onClick={() => void on.duplicate(open)} />
        <IconButton icon={Trash2} label="Remove it (Delete)" onClick={() => void on.remove(open)} className="mr-1.5" />
        <AddInside screen={screen} at={element} inside={insideOf(element) !== null} />
      </header>
      <Desk element={element as never} screen={screen} />
      <ByValues element={element} screen={screen} />
    </>
  );
}
