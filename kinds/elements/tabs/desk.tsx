import { ArrowRight, Plus } from 'lucide-react';
import { useNavigate } from 'react-router';
import { elementOf, insertElement } from '../../../core/app/edits.ts';
import { ElementMaker } from '../../../core/app/make.ts';
import type { Element } from '../../../core/app/schema.ts';
import { freeName } from '../../../core/document/names.ts';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useHome, useStudio } from '../../../studio/state/studio.ts';
import { Button, IconButton } from '../../../studio/ui/controls.tsx';
import { NameField } from '../../../studio/ui/NameField.tsx';
import { MOST_TABS, tabs } from './definition.ts';
import { ChoiceLine } from '../../../studio/screens/ChoiceLine.tsx';

type TabsElement = Extract<Element, { kind: 'tabs' }>;

/** The leaves by their names, which stand on the tabs. */
export default function TabsDesk({ element, screen }: DeskProps<TabsElement>) {
  const set = useElementEdit<TabsElement>(element);
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const nameOf = (leaf: Element, i: number): string => leaf.name ?? `Tab ${i + 1}`;
  const add = (): void => {
    const name = freeName('New leaf', element.children.map(nameOf));
    const leaf = new ElementMaker().box('down', [], { name, gap: 10 });
    void edit(`Added the leaf ${name}`, (a) => insertElement(a, leaf, element.id));
  };
  return (
    <>
      <section className="card mb-3.5 px-4 py-3.5">
        <h2 className="mb-1.5 text-[14px]">Leaves</h2>
        <ol>
          {element.children.map((leaf, i) => (
            <li key={leaf.id} className="flex h-9 items-center gap-2">
              <span className="min-w-0 flex-1">
                <NameField
                  value={nameOf(leaf, i)}
                  label={`Name of leaf ${i + 1}`}
                  className="truncate font-semibold"
                  onChange={(name) =>
                    void edit(`Renamed the leaf ${nameOf(leaf, i)}`, (a) => {
                      const e = elementOf(a, leaf.id);
                      if (e) e.name = name;
                    })
                  }
                />
              </span>
              <IconButton
                icon={ArrowRight}
                label={`Work on ${nameOf(leaf, i)}`}
                onClick={() => void navigate(`${home}/screens/${screen.id}/${leaf.id}`)}
              />
            </li>
          ))}
        </ol>
        <Button small icon={Plus} className="mt-1.5" disabled={element.children.length >= MOST_TABS} onClick={add}>
          Add a leaf
        </Button>
      </section>
      <SizeAndLook element={element} screen={screen}>
        <ChoiceLine
          label="Tabs"
          property={tabs.properties.look}
          value={element.look}
          onChange={(v) => set('look', v)}
        />
      </SizeAndLook>
    </>
  );
}
