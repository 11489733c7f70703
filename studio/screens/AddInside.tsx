import { aOrAn } from '../../core/document/names.ts';
import { Component, LayoutTemplate, Plus, Table2, Zap } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { insertElement } from '../../core/app/edits.ts';
import { rowFor } from '../../core/app/generate-screens.ts';
import { ElementMaker } from '../../core/app/make.ts';
import { kindName, partOf } from '../../core/app/names.ts';
import { holdsPart, placeOfPart } from '../../core/app/parts.ts';
import { ROW_SECTIONS, type Made } from '../../core/app/row-sections.ts';
import { SECTIONS } from '../../core/app/sections.ts';
import type { Element, ElementKind, Screen } from '../../core/app/schema.ts';
import { reachInside, thingOf } from '../../core/screens/reach.ts';
import { slotsOf } from '../../core/document/meaning.ts';
import { ELEMENTS } from '../../kinds/elements/index.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { ELEMENT_WORDS } from '../../kinds/elements/search-words.ts';
import { ChoiceList, type Choice } from '../chips/ChoiceChip.tsx';
import { nearestTable } from '../chips/place.ts';
import { useModel } from '../state/model.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { isFree } from '../ui/keys.ts';
import { Popover } from '../ui/popover.tsx';
import { useReach } from './places.ts';
import { Sample } from './Sample.tsx';
import { thumbnailOf } from './thumbnails.ts';

/** "a box", but "slides". */
const oneOrSeveral = (name: string): string => (/[^s]s$/.test(name) ? name : aOrAn(name));

/**
 * Puts a new element, or several that often stand together, into a container or behind any other element. The A key
 * opens it.
 */
export function AddInside({
  screen,
  at,
  inside,
  main = false,
}: {
  screen: Screen;
  at: Element;
  inside: boolean;
  main?: boolean;
}) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const outer = useReach(screen, at.id);
  const [slot] = slotsOf(elementKinds.get(at.kind)?.properties ?? {}, 'elements');
  const reach = inside && slot ? reachInside(elementKinds, model, outer, at, slot) : outer;
  const tableOf = (id: string | null) => app.tables.find((t) => t.id === id) ?? null;
  const record = nearestTable({ self: null, things: reach.things });
  const hand = {
    tables: app.tables,
    /** The table of the record at hand; null where there is none. */
    record: tableOf(record),
    table: tableOf(record) ?? app.tables[0] ?? null,
    form: tableOf(reach.form),
  };

  const [open, setOpen] = useState(false);
  const lately = useLately();
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (e.key.toLowerCase() !== 'a' || e.ctrlKey || e.metaKey || e.altKey || e.shiftKey || !isFree(e)) return;
      e.preventDefault();
      setOpen(true);
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);

  /** What would be put in, and what it is called in the trace. */
  const made = (what: string, things = reach.things): Made & { name: string } => {
    const make = new ElementMaker(undefined, rowFor);
    const works = ROW_SECTIONS.find((x) => x.id === what.slice(WORKS.length));
    if (what.startsWith(WORKS) && works && hand.record)
      return { ...works.make(make, app, hand.record), name: `“${works.said.name}”` };
    const section = SECTIONS.find((x) => x.id === what.slice(SECTION.length));
    const part = what.startsWith(PART) ? partOf(app, what.slice(PART.length)) : undefined;
    if (part) return { element: placeOfPart(part, things), routines: [], name: `the part ${part.name}` };
    if (what.startsWith(SECTION) && section)
      return { element: section.make(make, hand), routines: [], name: `“${section.said.name}”` };
    return {
      element: make.make(what as ElementKind, {}, hand),
      routines: [],
      name: oneOrSeveral(kindName(what as ElementKind).toLowerCase()),
    };
  };
  const add = (what: string): void => {
    if (what.startsWith(LATER)) {
      toast(`“${what.slice(LATER.length)}” needs a table. Make one here, or bring a file.`);
      void navigate(`${home}/data`);
      return;
    }
    if (what.startsWith(OF_ONE)) {
      toast(`“${what.slice(OF_ONE.length)}” is for one record. Select a list, or a screen that opens with a record.`);
      return;
    }
    const { element, routines, name } = made(what);
    lately.note(what);
    void edit(`Added ${name} to ${screen.name}`, (a) => {
      insertElement(a, element, what.startsWith(WORKS) ? rowIn(at) : at.id);
      a.routines.push(...routines);
    }).then(() => navigate(`${home}/screens/${screen.id}/${element.id}`));
  };
  const [looked, setLooked] = useState<{ element: Element; given: string | null } | null>(null);
  /** Where it would stand there may be no record that a part wants: it is drawn with one all the same. */
  const look = (what: string | null): void => {
    if (what === null || what.startsWith(LATER) || what.startsWith(OF_ONE)) {
      setLooked(null);
      return;
    }
    const part = what.startsWith(PART) ? partOf(app, what.slice(PART.length)) : undefined;
    const wants = part?.inputs.find((i) => i.link && !i.several)?.link?.table ?? null;
    const given = wants ?? nearestTable({ self: null, things: reach.things });
    setLooked({ element: made(what, wants ? thingOf(model, wants) : reach.things).element, given });
  };
  const isOffered = ({ needs }: { needs?: 'table' | 'form' | 'part' | undefined }): boolean =>
    needs !== 'part' && Boolean(needs === 'table' ? hand.table : needs === 'form' ? hand.form : true);
  const elements: Choice<string>[] = ELEMENTS.filter(isOffered).map((d) => ({
    value: d.kind,
    label: d.said.name,
    hint: d.said.hint,
    words: ELEMENT_WORDS[d.kind],
    icon: thumbnailOf(d.kind),
    group: 'Elements',
  }));
  const sections: Choice<string>[] = SECTIONS.filter(isOffered).map((x) => ({
    value: `${SECTION}${x.id}`,
    label: x.said.name,
    hint: x.said.hint,
    words: x.words,
    icon: LayoutTemplate,
    group: 'Ready-made sections',
  }));
  // Buttons that do what is expected with the record at hand, each with its routine.
  const works: Choice<string>[] = ROW_SECTIONS.flatMap((x) => {
    const about = hand.record && x.about(app, hand.record);
    return about
      ? {
          value: `${WORKS}${x.id}`,
          label: x.said.name,
          hint: about,
          words: x.words,
          icon: Zap,
          group: 'Ready-made actions',
        }
      : [];
  });
  const parts: Choice<string>[] = (app.parts ?? [])
    .filter((x) => !holdsPart(app, x.id, screen.id))
    .map((x) => ({ value: `${PART}${x.id}`, label: x.name, icon: Component, group: 'Your parts' }));
  // What shows records is found by its name also where there are none yet, and leads to where tables are made.
  const later: Choice<string>[] = hand.table
    ? []
    : [...ELEMENTS, ...SECTIONS]
        .filter((d) => d.needs === 'table')
        .map((d) => ({
          value: `${LATER}${d.said.name}`,
          label: d.said.name,
          hint: 'needs a table',
          words: 'kind' in d ? ELEMENT_WORDS[d.kind] : d.words,
          icon: Table2,
          group: 'Once there is a table',
        }));
  // An action is found where no record is at hand too, and says what it needs.
  const elsewhere: Choice<string>[] = hand.record
    ? []
    : ROW_SECTIONS.filter((x) => app.tables.some((t) => x.about(app, t) !== null)).map((x) => ({
        value: `${OF_ONE}${x.said.name}`,
        label: x.said.name,
        hint: 'for one record: in the row of a list',
        words: x.words,
        icon: Zap,
        group: 'Where a record is at hand',
      }));
  const all = [...parts, ...works, ...elements, ...sections, ...later, ...elsewhere];
  const again = lately.used
    .flatMap((v) => all.find((c) => c.value === v) ?? [])
    .map((c) => ({ ...c, group: 'Lately' }));
  return (
    <Popover
      align="end"
      width={570}
      state={[open, setOpen]}
      trigger={
        <Button look={main ? 'main' : 'plain'} icon={Plus}>
          {inside ? 'Add inside' : 'Add after it'}
        </Button>
      }
    >
      {(close) => (
        <div className="flex items-start">
          <div className="min-w-0 flex-1">
            <ChoiceList
              placeholder="Search what to add"
              choices={[...again, ...all]}
              onLook={look}
              onChoose={(what) => {
                close();
                add(what);
              }}
            />
          </div>
          {looked && <Sample {...looked} form={reach.form} />}
        </div>
      )}
    </Popover>
  );
}

/** Where an action for one record goes: into the row of a list, beside what it shows. */
function rowIn(at: Element): string {
  const [row, ...more] = at.kind === 'list' ? at.children : [];
  return row?.kind === 'box' && more.length === 0 ? row.id : at.id;
}
const SECTION = 'section ';
const WORKS = 'works ';
const PART = 'part ';
const LATER = 'later ';
const OF_ONE = 'of one ';
const LATELY = 'kite added lately';

/** What was added lately in this browser, the newest first. */
function useLately(): { used: readonly string[]; note(what: string): void } {
  const [used, setUsed] = useState<readonly string[]>(() => {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(LATELY) ?? '[]');
      return Array.isArray(kept) ? kept.filter((x): x is string => typeof x === 'string').slice(0, 4) : [];
    } catch {
      return [];
    }
  });
  const note = (what: string): void => {
    const next = [what, ...used.filter((x) => x !== what)].slice(0, 4);
    setUsed(next);
    try {
      localStorage.setItem(LATELY, JSON.stringify(next));
    } catch {
      // A browser that keeps nothing offers nothing again.
    }
  };
  return { used, note };
}
