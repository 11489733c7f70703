import { useDraggable, useDroppable } from '@dnd-kit/core';
import { Fragment, type KeyboardEvent, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { elementOf, insideOf, moveElement, removeElement, shiftElement } from '../../core/app/edits.ts';
import { elementName } from '../../core/app/names.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import { IndexItem } from '../shell/Index.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { DragArea, type DragAt } from '../ui/drag.tsx';
import { thumbnailOf } from './thumbnails.ts';

type Where = 'before' | 'after' | 'inside';

/** Where an element lands: into a container in its middle, otherwise before or behind. */
const whereIn = (element: Element, share: number): Where =>
  insideOf(element) && share > 0.3 && share < 0.75 ? 'inside' : share < 0.5 ? 'before' : 'after';

const MARKS: Record<Where, string> = {
  inside: 'rounded-control ring-2 ring-persimmon',
  before: 'shadow-[0_-2px_0_var(--color-persimmon)]',
  after: 'shadow-[0_2px_0_var(--color-persimmon)]',
};

/** The elements of a screen, moved by dragging and by keys. */
export function Outline({ screen, selected, base }: { screen: Screen; selected: string | null; base: string }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const nameOf = (id: string): string => {
    const e = elementOf(app, id);
    return e ? elementName(app, e) : 'nothing';
  };

  const onKeyDown = (e: KeyboardEvent, element: Element): void => {
    if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
      e.preventDefault();
      void edit(`Moved ${elementName(app, element)}`, (a) => shiftElement(a, element.id, e.key === 'ArrowUp' ? -1 : 1));
    } else if (e.key === 'Delete') {
      e.preventDefault();
      void edit(`Removed ${elementName(app, element)}`, (a) => removeElement(a, element.id)).then(() =>
        navigate(`${base}/${screen.id}`),
      );
    }
  };
  const drop = ({ id, over, share }: DragAt): void => {
    const target = over && elementOf(app, over);
    if (target && over !== id)
      void edit(`Moved ${nameOf(id)}`, (a) => moveElement(a, id, over, whereIn(target, share.y)));
  };
  const draw = (list: readonly Element[], depth: number, at: DragAt | null): ReactNode =>
    list.map((e) => {
      const inner = insideOf(e) ?? [];
      return (
        <Fragment key={e.id}>
          <Item
            element={e}
            name={elementName(app, e)}
            mark={at?.over === e.id && at.id !== e.id ? MARKS[whereIn(e, at.share.y)] : undefined}
            to={`${base}/${screen.id}/${e.id}`}
            selected={e.id === selected}
            depth={depth}
            onKeyDown={(ev) => onKeyDown(ev, e)}
          />
          {inner.length > 0 && (
            <li>
              <ul>{draw(inner, depth + 1, at)}</ul>
            </li>
          )}
        </Fragment>
      );
    });
  return (
    <li>
      <DragArea keys nameOf={nameOf} onDrop={drop}>
        {(at) => <ul>{draw(screen.root.children, 1, at)}</ul>}
      </DragArea>
    </li>
  );
}

function Item({
  element,
  mark,
  ...rest
}: {
  element: Element;
  name: string;
  mark: string | undefined;
  to: string;
  selected: boolean;
  depth: number;
  onKeyDown(e: KeyboardEvent): void;
}) {
  const { setNodeRef, setActivatorNodeRef, listeners, attributes } = useDraggable({ id: element.id });
  const { setNodeRef: setPlace } = useDroppable({ id: element.id, data: { inside: insideOf(element) !== null } });
  return (
    <IndexItem
      {...rest}
      className={mark}
      icon={thumbnailOf(element.kind, element)}
      tone="inner"
      drag={{
        place: (node) => {
          setNodeRef(node);
          setPlace(node);
        },
        handle: setActivatorNodeRef,
        listeners,
        describedBy: attributes['aria-describedby'],
      }}
    />
  );
}
