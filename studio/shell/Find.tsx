import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { PanelsTopLeft, Rows3, Sigma, Table2, Workflow } from 'lucide-react';
import { useNavigate } from 'react-router';
import { walkElements } from '../../core/document/walk.ts';
import { elementName, kindName } from '../../core/app/names.ts';
import { elementKinds } from '../../kinds/elements/index.ts';
import type { Element } from '../../core/app/schema.ts';
import { groupClass, itemClass } from '../chips/ChoiceChip.tsx';
import { useApp, useHome } from '../state/studio.ts';
import { WORKSPACES } from './Trail.tsx';

/** Finds anything in the app by its name and goes there. */
export function Find({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="float fixed top-[14vh] left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 p-1.5"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">Find in this app</Dialog.Title>
          <Named close={() => onOpenChange(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Everything in the app that has a name, to be searched. */
function Named({ close }: { close(): void }) {
  const app = useApp();
  const home = useHome();
  const navigate = useNavigate();
  const go = (to: string): void => {
    close();
    void navigate(`${home}/${to}`);
  };
  const named = app.screens.flatMap((s) => {
    const found: { id: string; name: string; screen: string; on: string }[] = [];
    walkElements<Element>([s.root], (e) => {
      // What people look for has a name, or does something when it is tapped or filled.
      const does = Object.values(elementKinds.get(e.kind)?.properties ?? {}).some((p) => p.is === 'tap' && !p.optional);
      if (e.name || does)
        found.push({
          id: e.id,
          name: e.name ?? `${kindName(e.kind)} ${elementName(app, e)}`,
          screen: s.id,
          on: s.name,
        });
    });
    return found;
  });
  return (
    <Command loop>
      <Command.Input
        autoFocus
        placeholder="Find a table, field, screen, element or routine"
        className="field mb-1 h-9 text-md"
      />
      <Command.List className="thin-scroll max-h-[50vh] overflow-auto">
        <Command.Empty className="px-3 py-6 text-center text-ink-faint">Nothing has this name.</Command.Empty>
        <Command.Group heading="Workspaces" className={groupClass}>
          {WORKSPACES.map(([id, name]) => (
            <Command.Item key={id} value={`workspace ${name}`} onSelect={() => go(id)} className={itemClass}>
              {name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Tables and fields" className={groupClass}>
          {app.tables.map((t) => (
            <Command.Item
              key={t.id}
              value={`table ${t.name}`}
              onSelect={() => go(`data/${t.id}`)}
              className={itemClass}
            >
              <Table2 size={14} aria-hidden />
              {t.name}
            </Command.Item>
          ))}
          {app.tables.flatMap((t) =>
            t.fields.map((f) => (
              <Command.Item
                key={f.id}
                value={`field ${f.name} ${t.name} ${f.id}`}
                onSelect={() => go(`data/${t.id}/${f.id}`)}
                className={itemClass}
              >
                <Sigma size={14} aria-hidden />
                {f.name}
                <span className="text-xs text-ink-faint">{t.name}</span>
              </Command.Item>
            )),
          )}
        </Command.Group>
        <Command.Group heading="Screens" className={groupClass}>
          {app.screens.map((s) => (
            <Command.Item
              key={s.id}
              value={`screen ${s.name} ${s.id}`}
              onSelect={() => go(`screens/${s.id}`)}
              className={itemClass}
            >
              <PanelsTopLeft size={14} aria-hidden />
              {s.name}
            </Command.Item>
          ))}
          {named.map((e) => (
            <Command.Item
              key={e.id}
              value={`element ${e.name} ${e.on} ${e.id}`}
              onSelect={() => go(`screens/${e.screen}/${e.id}`)}
              className={itemClass}
            >
              <Rows3 size={14} aria-hidden />
              {e.name}
              <span className="text-xs text-ink-faint">{e.on}</span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Routines" className={groupClass}>
          {app.routines.map((r) => (
            <Command.Item
              key={r.id}
              value={`routine ${r.name} ${r.id}`}
              onSelect={() => go(`logic/${r.id}`)}
              className={itemClass}
            >
              <Workflow size={14} aria-hidden />
              {r.name}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command>
  );
}
