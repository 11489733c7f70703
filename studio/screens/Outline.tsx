import { useDraggable, useDroppable } from '@dnd-kit/core';
import { Fragment, memo, useCallback, useMemo, type MouseEvent, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { elementOf, insideOf } from '../../core/app/edits.ts';
import { childrenOf } from '../../core/document/walk.ts';
import { moveElements } from '../../core/app/selection.ts';
import { usePhone } from '../state/phone.ts';
import { elementName } from '../../core/app/names.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import { IndexItem } from '../shell/Index.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { DragArea, type DragAt } from '../ui/drag.tsx';
import { ContextMenu } from '../ui/ContextMenu.tsx';
import type { MenuItem } from '../ui/menu-item.tsx';
import { elementItems } from './element-menu.ts';
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

  const several = usePhone((s) => s.several);
  const drop = ({ id, over, share }: DragAt): void => {
    const target = over && elementOf(app, over);
    if (!target || over === id) return;
    const where = whereIn(target, share.y);
    // Of several that are selected any one takes the others along.
    const ids = several.includes(id) ? several : [id];
    if (!ids.includes(over))
      void edit(ids.length > 1 ? `Moved ${ids.length} elements` : `Moved ${nameOf(id)}`, (a) =>
        moveElements(a as typeof app, ids, over, where),
      );
  };
  const press = useCallback(
    (e: MouseEvent, id: string): void => {
      if (!e.shiftKey) {
        usePhone.getState().selectAll([]);
        return;
      }
      e.preventDefault();
      const left = usePhone.getState().toggle(id);
      void navigate(`${base}/${screen.id}${left ? `/${left}` : ''}`);
    },
    [navigate, base, screen.id],
  );
  const where = useMemo(() => ({ screen, base }), [screen, base]);
  const draw = (list: readonly Element[], depth: number, at: DragAt | null): ReactNode =>
    list.map((e) => {
      const inner = childrenOf(e);
      return (
        <Fragment key={e.id}>
          <Item
            element={e}
            name={elementName(app, e)}
            mark={at?.over === e.id && at.id !== e.id ? MARKS[whereIn(e, at.share.y)] : undefined}
            to={`${base}/${screen.id}/${e.id}`}
            selected={several.length ? several.includes(e.id) : e.id === selected}
            depth={depth}
            press={press}
            where={where}
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

// A key typed into one element draws one line anew, not all of them.
const Item = memo(function Item({
  element,
  mark,
  press,
  where,
  ...rest
}: {
  element: Element;
  name: string;
  mark: string | undefined;
  to: string;
  selected: boolean;
  depth: number;
  press(e: MouseEvent, id: string): void;
  where: { screen: Screen; base: string };
}) {
  const { setNodeRef, setActivatorNodeRef, listeners, attributes } = useDraggable({ id: element.id });
  const { setNodeRef: setPlace } = useDroppable({ id: element.id, data: { inside: insideOf(element) !== null } });
  const navigate = useNavigate();
  const items = (): (MenuItem | null)[] => {
    const { screen, base } = where;
    const open = (id: string | null): void => void navigate(`${base}/${screen.id}${id ? `/${id}` : ''}`);
    // What is pressed is what is meant, unless it is one of several that are selected.
    if (!usePhone.getState().several.includes(element.id)) {
      usePhone.getState().select(element.id);
      open(element.id);
    }
    return elementItems(screen, open);
  };
  return (
    <ContextMenu items={items}>
      <IndexItem
        {...rest}
        className={mark}
        icon={thumbnailOf(element.kind, element)}
        tone="inner"
        onClickCapture={(ev) => press(ev, element.id)}
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
    </ContextMenu>
  );
});
