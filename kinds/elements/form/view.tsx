import { useEffect, useRef, useState } from 'react';
import type { Cell } from '../../../core/fields/lists.ts';
import type { Drawn, DrawnNode } from '../../../core/screens/element.ts';
import { FormContext, type FormState, usePlayer } from '../../../player/context.ts';
import { Inside, sizeOf } from '../../../player/ElementView.tsx';
import type { ScreenStore } from '../../../player/screen-store.ts';
import type { form } from './definition.ts';

/** The fields of the inputs that are seen in a form now. */
function fieldsIn(store: ScreenStore, keys: readonly string[]): string[] {
  return keys.flatMap((key) => {
    const node: DrawnNode | undefined = store.node(key);
    if (!node) return [];
    if (node.kind === 'input') return node['into'] === 'form' ? [node['field'] as string] : [];
    return Array.isArray(node['children']) ? fieldsIn(store, node['children'] as string[]) : [];
  });
}

/** A form for a new or present record. What is typed stays until it is saved or the screen is left. */
export default function FormView({ e }: { e: Drawn<typeof form> }) {
  const { api, store, saved, say, drafts, draftOf, begins } = usePlayer();
  const draft = `${draftOf(e.key)}/${e.record ?? ''}`;
  const [changed, setChanged] = useState<Record<string, Cell>>(() => drafts.at(draft));
  const [problems, setProblems] = useState<Record<string, string>>({});
  const [saving, setSaving] = useState(false);
  useEffect(() => {
    if (Object.keys(drafts.at(draft)).length) say('What you had typed is back', 'plain');
  }, []);
  const known = useRef(draft);
  useEffect(() => {
    if (known.current === draft) return;
    known.current = draft;
    setChanged(drafts.at(draft));
    setProblems({});
  }, [draft]);
  // What was typed is kept until it is saved or thrown away knowingly, also while the form is out of view.
  useEffect(() => drafts.set(draft, changed), [drafts, draft, changed]);

  const first: Record<string, Cell> = e.record ? e.values : { ...e.values, ...begins };

  const save = (): void => {
    if (saving) return;
    setSaving(true);
    const all = Object.fromEntries(
      fieldsIn(store, e.children).map((f) => [f, changed[f] ?? (f in changed ? null : (first[f] ?? null))]),
    );
    api.saveForm(e.table, e.record, e.record ? { ...changed } : { ...begins, ...all }).then(
      (answer) => {
        setSaving(false);
        if ('problems' in answer) {
          setProblems(answer.problems);
          // What is said of no field in particular is told in the form itself, where it stays.
          const first = Object.entries(answer.problems).find(([field]) => field !== '')?.[1];
          if (first) say(first);
        } else {
          setChanged({});
          drafts.set(draft, {});
          saved(answer.created, answer.said);
        }
      },
      (error: Error) => {
        setSaving(false);
        say(error.message);
      },
    );
  };

  const state: FormState = {
    values: { ...first, ...changed },
    problems,
    saving,
    refused: e.refused !== undefined,
    closed: e.closed,
    save,
    set: (field, cell) => {
      setChanged((c) => ({ ...c, [field]: cell }));
      setProblems(({ [field]: _mended, ...rest }) => rest);
    },
  };
  return (
    <FormContext.Provider value={state}>
      <form
        className="k-form"
        data-e={e.id}
        style={sizeOf(e)}
        noValidate
        onSubmit={(ev) => {
          ev.preventDefault();
          save();
        }}
      >
        {e.refused && (
          <p className="k-refused" role="note">
            {e.refused}
          </p>
        )}
        <Inside of={e.children} />
        {problems[''] && (
          <p className="k-problem" role="alert" ref={(p) => p?.scrollIntoView({ block: 'nearest' })}>
            {problems['']}
          </p>
        )}
      </form>
    </FormContext.Provider>
  );
}
