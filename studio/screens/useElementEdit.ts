import { useCallback } from 'react';
import { inDraft, placeOf } from '../../core/app/edits.ts';
import type { Element } from '../../core/app/schema.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { isTyped } from '../state/phone-first.ts';
import { useStudio } from '../state/studio.ts';
import { elementName } from '../../core/app/names.ts';

const WORDS: Record<string, string> = {
  words: 'words',
  seenWhen: 'when it is seen',
  worked: 'what is worked out',
  tap: 'what a tap does',
  query: 'which records it shows',
};

/** Sets one property of an element as a named edit; typing into the same property is one step. */
export function useElementEdit<E extends Element>(element: E): <K extends keyof E>(key: K, value: E[K]) => void {
  return useCallback(
    (key, value) => {
      const { edit, app } = useStudio.getState();
      if (!app) return;
      const what = WORDS[String(key)] ?? elementKinds.get(element.kind)?.properties[String(key)]?.said ?? String(key);
      void edit(
        `Changed ${what} of ${elementName(app, element)}`,
        (a) => {
          const e = inDraft(app, a as typeof app, element.id) as E | null;
          if (!e) return;
          if (value === undefined) delete e[key];
          else e[key] = value;
        },
        {
          merge: `${element.id}.${String(key)}`,
          phoneFirst: isTyped(),
          about: { screen: placeOf(app, element.id)?.screen.id ?? '', element: element.id },
        },
      );
    },
    [element],
  );
}
