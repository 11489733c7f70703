import { useQuery } from '@tanstack/react-query';
import { Variable as VariableIcon } from 'lucide-react';
import { useNavigate } from 'react-router';
import { addVariable } from '../../core/app/variables.ts';
import { VARIABLES } from '../../core/document/ids.ts';
import type { Screen } from '../../core/app/schema.ts';
import { IndexGroup, IndexItem } from '../shell/Index.tsx';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useStudio } from '../state/studio.ts';

/** What every variable holds now, in words. */
export function useVariableValues(): Record<string, string> {
  const engine = useEngine();
  const app = useApp();
  const at = useRevisions((s) => s.tableRevision[VARIABLES] ?? 0);
  const { data } = useQuery({
    queryKey: ['variables', app.id, app.variables, at],
    queryFn: () => engine.trying.variables(),
    placeholderData: (before) => before,
  });
  return data ?? {};
}

/** The variables in the index, each with its present value: those of the app, and of the screen that is worked on. */
export function VariablesGroup({
  base,
  selected,
  screen,
}: {
  base: string;
  selected: string | undefined;
  screen?: Screen | null;
}) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const values = useVariableValues();
  const seen = (app.variables ?? []).filter((v) => !v.screen || !screen || v.screen === screen.id);
  const add = (): void => {
    let id = '';
    void edit('Added a variable', (a) => {
      id = addVariable(a, screen?.id ?? null).id;
    }).then(() => navigate(`${base}/${id}`));
  };
  return (
    <IndexGroup title="Variables" onAdd={add} addLabel="Add a variable">
      {seen.map((v) => (
        <IndexItem
          key={v.id}
          to={`${base}/${v.id}`}
          icon={VariableIcon}
          name={v.name}
          hint={<span className="inline-block max-w-[84px] truncate align-bottom">{values[v.id] || '–'}</span>}
          selected={v.id === selected}
        />
      ))}
      {seen.length === 0 && <li className="px-2 py-1 text-sm text-ink-faint">None yet</li>}
    </IndexGroup>
  );
}
