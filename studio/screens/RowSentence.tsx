import type { ReactNode } from 'react';
import { design, designOf, type RowDesign } from '../../core/app/row-design.ts';
import { elementOf } from '../../core/app/edits.ts';
import { thisId } from '../../core/document/ids.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { ListElement, Screen } from '../../core/app/schema.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useModel } from '../state/model.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { placeInside, usePlace } from './places.ts';

/** Nothing, as a choice among values. */
const none = (words: string): readonly (readonly [string, string])[] => [['', words]];

/** Which fields stand where in the rows of a list; `otherwise` for rows that are put together in another way. */
export function RowSentence({
  element,
  screen,
  otherwise,
}: {
  element: ListElement;
  screen: Screen;
  otherwise: ReactNode;
}) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const place = placeInside(model, usePlace(screen, element.id), element, 'children');
  const table = app.tables.find((t) => t.id === element.query.table);
  const now = designOf(element.children);
  if (!now || !table) return otherwise;
  const set = (change: Partial<RowDesign>): void =>
    void edit(`Changed what a row of ${table.name} shows`, (a) => {
      const list = elementOf(a as typeof app, element.id);
      if (list?.kind === 'list') design(list.children, change, table, new ElementMaker());
    });
  const chip = (
    name: string,
    value: string,
    empty: string,
    onChange: (v: string) => void,
    optional = true,
  ): ReactNode => (
    <ValueChip
      name={name}
      value={value}
      own={thisId(table.id)}
      empty={empty}
      optional={optional}
      literals={false}
      {...(optional && { fixed: none(empty) })}
      {...(name === 'Picture' && { prefer: { type: 'picture' as const, group: 'Pictures' } })}
      place={place}
      onChange={onChange}
    />
  );
  const own = <span className="text-ink-soft">something of its own</span>;
  return (
    <p>
      Each row shows{' '}
      {now.title === null ? own : chip('Title', now.title, 'choose a field', (title) => set({ title }), false)}, below
      it{' '}
      {now.below === null
        ? own
        : now.below.map((value, i) => (
            <span key={i}>
              {chip(`Below ${i + 1}`, value, 'nothing', (v) =>
                set({ below: now.below!.flatMap((x, k) => (k === i ? (v ? [v] : []) : [x])) }),
              )}{' '}
            </span>
          ))}
      {now.below !== null && now.below.length < MOST_BELOW && (
        <ValueChip
          name="Add below"
          value=""
          empty={now.below.length ? 'and more' : 'nothing'}
          optional
          literals={false}
          place={place}
          onChange={(v) => v && set({ below: [...now.below!, v] })}
        />
      )}
      , at the end {now.end === null ? own : chip('At the end', now.end, 'nothing', (end) => set({ end }))}, and{' '}
      {chip('Picture', now.picture, 'no picture', (picture) => set({ picture }))}.
    </p>
  );
}

/** So many values stand in the second line of a row. */
const MOST_BELOW = 4;
