import { useDraggable } from '@dnd-kit/core';
import { useCallback, useEffect, useRef, useState, type MouseEvent, type ReactNode, type RefObject } from 'react';
import { drawnOf, kindName, wordsOf } from '../../core/app/names.ts';
import type { Screen } from '../../core/app/schema.ts';
import { elementOf, insideOf, placeOf } from '../../core/app/edits.ts';
import { elementItems } from '../screens/element-menu.ts';
import { FIELD_DRAG, putField } from '../screens/put-field.ts';
import { dropped } from '../screens/selected.ts';
import { ContextMenu } from '../ui/ContextMenu.tsx';
import type { MenuItem } from '../ui/menu-item.tsx';
import { usePhone } from '../state/phone.ts';
import { useStudio } from '../state/studio.ts';
import { elementBehind, selectorOf } from './drawn.ts';
import { DragArea } from '../ui/drag.tsx';
import { FrameLine, Handles, WordsInPlace, type Frame } from './ArrangeFrames.tsx';

/** What leads from screen to screen, or from leaf to leaf, is used in Arrange too. */
const OF_FRAME = '[data-tab], [data-way], [data-leaf], .k-back, .k-menu, .k-more, .k-close';

type Where = 'before' | 'after' | 'inside';
type Target = Frame & { where: Where; across: boolean };

/**
 * Lies over the phone in Arrange. A press selects what stands on the screen, another goes inside; with Shift several are
 * selected. A drag moves the selection, with Alt a copy of it; a double press writes words where they stand.
 */
export function ArrangeOverlay({
  host,
  drawn,
  scale,
  selected,
  onSelect,
}: {
  host: RefObject<HTMLDivElement | null>;
  /** Grows when the phone shows something else. */
  drawn: number;
  scale: number;
  selected: string | null;
  onSelect(id: string | null): void;
}) {
  const app = useStudio((s) => s.shown);
  const several = usePhone((s) => s.several);
  const [hover, setHover] = useState<Frame | null>(null);
  const [chosen, setChosen] = useState<Frame[]>([]);
  const [around, setAround] = useState<Frame | null>(null);
  const [target, setTarget] = useState<Target | null>(null);
  /** Grows when another leaf or screen was turned to here. */
  const [turned, setTurned] = useState(0);
  const [writing, setWriting] = useState<string | null>(null);
  /** What a press that is no drag selects when it is let go. */
  const next = useRef<string | null>(null);
  const alt = useRef(false);
  const draggable = useRef(false);

  const frameOf = useCallback(
    (id: string | null): Frame | null => {
      const box = host.current;
      const el = id ? box?.querySelector(selectorOf(id)) : null;
      if (!box || !el || !id) return null;
      const [a, b] = [el.getBoundingClientRect(), box.getBoundingClientRect()];
      return {
        id,
        top: (a.top - b.top) / scale,
        left: (a.left - b.left) / scale,
        width: a.width / scale,
        height: a.height / scale,
      };
    },
    [host, scale],
  );

  useEffect(() => {
    const place = (): void => {
      const ids = several.length ? several : selected ? [selected] : [];
      setChosen(ids.flatMap((id) => frameOf(id) ?? []));
      const parent = selected && app ? placeOf(app, selected)?.parent : null;
      setAround(frameOf(parent?.id ?? null));
    };
    const t = requestAnimationFrame(place);
    const scroller = host.current?.querySelector('.k-scroll');
    scroller?.addEventListener('scroll', place);
    return () => {
      cancelAnimationFrame(t);
      scroller?.removeEventListener('scroll', place);
    };
  }, [selected, several, drawn, turned, frameOf, host, app]);
  useEffect(() => setWriting(null), [selected]);

  /** The elements under a point, from what stands on the screen to the innermost; the screen itself is none. */
  const chainAt = (x: number, y: number, overlay: Element): string[] => {
    const stack = document.elementsFromPoint(x, y).filter((e) => !overlay.contains(e));
    const found = stack.find((e) => host.current?.contains(e) && e.closest('[data-e]'));
    const chain: string[] = [];
    for (let e = found?.closest('[data-e]'); e && host.current?.contains(e); e = e.parentElement?.closest('[data-e]')) {
      const on = e.closest<HTMLElement>('.k-app')?.dataset['screen'] ?? '';
      const id = elementBehind(e.getAttribute('data-e')!, on);
      if (chain[0] !== id && (!app || placeOf(app, id)?.parent)) chain.unshift(id);
    }
    return chain;
  };
  /** What a press there would select: inside of what is selected, or beside it, or what stands on the screen. */
  const nextAt = (chain: readonly string[]): string | null => {
    const at = selected ? chain.indexOf(selected) : -1;
    if (at >= 0) return chain[Math.min(at + 1, chain.length - 1)]!;
    const parents: string[] = [];
    for (let p = selected && app ? placeOf(app, selected)?.parent : null; p; p = placeOf(app!, p.id)?.parent ?? null)
      parents.push(p.id);
    const near = parents.map((id) => chain.indexOf(id)).find((i) => i >= 0);
    return chain[near === undefined ? 0 : Math.min(near + 1, chain.length - 1)] ?? null;
  };

  const press = (
    e: { clientX: number; clientY: number; shiftKey: boolean; altKey: boolean },
    overlay: Element,
  ): void => {
    next.current = null;
    alt.current = e.altKey;
    draggable.current = false;
    const tab = document
      .elementsFromPoint(e.clientX, e.clientY)
      .find((x) => x.closest(OF_FRAME))
      ?.closest<HTMLElement>(OF_FRAME);
    if (tab) {
      tab.click();
      setTurned((n) => n + 1);
      return;
    }
    const chain = chainAt(e.clientX, e.clientY, overlay);
    const id = nextAt(chain);
    if (!id) {
      if (!e.shiftKey && selected) onSelect(null);
      return;
    }
    draggable.current = true;
    if (e.shiftKey) {
      const there = chain.find((x) => x === selected || several.includes(x));
      const now = usePhone.getState().toggle(there ?? id);
      if (now !== selected) onSelect(now);
      return;
    }
    // What is selected already may be dragged; only a press that is no drag goes inside.
    const held = [...several, selected ?? ''].some((s) => chain.includes(s));
    if (held) next.current = id;
    else {
      // At once: a quick hand has dragged and let go before the way to the desk has led there.
      usePhone.getState().select(id);
      onSelect(id);
    }
  };
  const released = (): void => {
    const id = next.current;
    next.current = null;
    if (id && id !== selected) onSelect(id);
    else if (id && several.length) usePhone.getState().selectAll([]);
  };
  /** What is pressed with the right button is selected, unless it is one of several that are. */
  const pointAt = (e: MouseEvent, overlay: Element): void => {
    const chain = chainAt(e.clientX, e.clientY, overlay);
    const isSelected = [...several, selected ?? ''].some((id) => chain.includes(id));
    const id = isSelected ? null : nextAt(chain);
    if (!id) return;
    usePhone.getState().select(id);
    onSelect(id);
  };
  const items = (): (MenuItem | null)[] => {
    const shown = host.current?.querySelector<HTMLElement>('.k-app')?.dataset['screen'];
    const on = app && drawnOf(app).find((s) => s.id === shown);
    return on ? elementItems(on as Screen, onSelect) : [];
  };
  const write = (e: MouseEvent, overlay: Element): void => {
    const chain = chainAt(e.clientX, e.clientY, overlay);
    const id = chain.findLast((x) => {
      const element = app && elementOf(app, x);
      return element && wordsOf(element);
    });
    if (!id) return;
    onSelect(id);
    // Selecting another ends any writing, so this comes after it.
    setTimeout(() => setWriting(id));
  };

  /** Where something would land; `isNew` for what does not stand on the screen yet. */
  const targetAt = (x: number, y: number, overlay: Element | null, isNew = false): Target | null => {
    const box = host.current;
    const moved = usePhone.getState().several;
    const ids = isNew ? [] : moved.length ? moved : selected ? [selected] : [];
    if (!overlay || !box || !app) return null;
    const chain = chainAt(x, y, overlay);
    const cut = chain.findIndex((id) => ids.includes(id));
    const id = (cut >= 0 && !alt.current ? chain.slice(0, cut) : chain).at(-1);
    const over = frameOf(id ?? null);
    const element = id ? elementOf(app, id) : null;
    if (!over || !element || (ids.includes(over.id) && !alt.current)) return null;
    const at = box.getBoundingClientRect();
    const [px, py] = [(x - at.left) / scale, (y - at.top) / scale];
    const parent = placeOf(app, over.id)?.parent;
    const across = parent?.kind === 'box' && parent.runs === 'across';
    const share = across ? (px - over.left) / over.width : (py - over.top) / over.height;
    const where: Where =
      insideOf(element) && share > 0.25 && share < 0.75 ? 'inside' : share < 0.5 ? 'before' : 'after';
    return { ...over, where, across };
  };
  /** Where a field that is dragged here would land: over an empty place, at the end of the screen. */
  const fieldTarget = (x: number, y: number): Target | null => {
    const over = targetAt(x, y, surface.current, true);
    const shown = host.current?.querySelector<HTMLElement>('.k-app')?.dataset['screen'];
    const root = app && drawnOf(app).find((s) => s.id === shown)?.root;
    const frame = root && !over ? frameOf(root.id) : null;
    return over ?? (frame && { ...frame, where: 'inside', across: false });
  };
  const surface = useRef<HTMLDivElement>(null);
  const only = several.length === 0 ? chosen[0] : undefined;
  const element = app && only ? elementOf(app, only.id) : null;
  const screen = app && only ? placeOf(app, only.id)?.screen : null;
  return (
    <DragArea
      onStart={() => {
        next.current = null;
        if (!draggable.current) setTarget(null);
      }}
      onMove={({ point }) => setTarget(draggable.current ? targetAt(point.x, point.y, surface.current) : null)}
      onDrop={({ point }) => {
        const to = draggable.current ? targetAt(point.x, point.y, surface.current) : null;
        setTarget(null);
        if (to) void dropped(to.id, to.where, alt.current, onSelect);
      }}
    >
      {(at) => (
        <Surface
          onNode={(node) => {
            surface.current = node;
          }}
          onPress={press}
          onRelease={released}
          onDouble={write}
          items={items}
          onMenu={pointAt}
          onHover={(x, y, overlay) => !at && setHover(frameOf(nextAt(chainAt(x, y, overlay))))}
          onLeave={() => {
            setHover(null);
            setTarget(null);
          }}
          onField={(x, y) => setTarget(fieldTarget(x, y))}
          onFieldDrop={(x, y, field) => {
            const to = fieldTarget(x, y);
            setTarget(null);
            if (to) void putField(field, to, onSelect);
          }}
          onWheel={(by) => host.current?.querySelector('.k-scroll')?.scrollBy(0, by)}
        >
          {hover && !chosen.some((c) => c.id === hover.id) && !at && <FrameLine frame={hover} />}
          {chosen.map((frame) => (
            <FrameLine key={frame.id} frame={frame} label={app ? labelOf(elementOf(app, frame.id)) : ''} />
          ))}
          {only && element && screen && !at && writing !== element.id && (
            <Handles frame={only} around={around} scale={scale} element={element} />
          )}
          {only && element && screen && writing === element.id && (
            <WordsInPlace frame={only} element={element} screen={screen} onEnd={() => setWriting(null)} />
          )}
          {target && <Landing target={target} />}
        </Surface>
      )}
    </DragArea>
  );
}

/** Where what is dragged would land: a line between two, or the edge of what takes it in. */
function Landing({ target }: { target: Target }) {
  const { where, across, left, top, width, height } = target;
  if (where === 'inside')
    return (
      <div
        className="pointer-events-none absolute rounded-[10px] ring-[3px] ring-persimmon ring-inset"
        style={{ left, top, width, height }}
      />
    );
  const behind = where === 'after';
  return (
    <div
      className="pointer-events-none absolute rounded bg-persimmon"
      style={
        across
          ? { top, height, width: 3, left: (behind ? left + width : left) - 2 }
          : { left, width, height: 3, top: (behind ? top + height : top) - 2 }
      }
    />
  );
}

/** What lies over the phone: pressed to select, dragged to move what is selected. */
function Surface({
  onNode,
  onPress,
  onRelease,
  onDouble,
  onHover,
  onLeave,
  onWheel,
  items,
  onMenu,
  onField,
  onFieldDrop,
  children,
}: {
  onField(x: number, y: number): void;
  onFieldDrop(x: number, y: number, field: string): void;
  items(): (MenuItem | null)[];
  onMenu(e: MouseEvent, overlay: Element): void;
  onNode(node: HTMLDivElement | null): void;
  onPress(e: { clientX: number; clientY: number; shiftKey: boolean; altKey: boolean }, overlay: Element): void;
  onRelease(): void;
  onDouble(e: MouseEvent, overlay: Element): void;
  onHover(x: number, y: number, overlay: Element): void;
  onLeave(): void;
  onWheel(by: number): void;
  children: ReactNode;
}) {
  const { setNodeRef, listeners } = useDraggable({ id: 'the element' });
  return (
    <ContextMenu items={items}>
      <div
        ref={(node) => {
          onNode(node);
          setNodeRef(node);
        }}
        data-arrange
        className="absolute inset-0 z-10 touch-none"
        {...listeners}
        onDragOver={(e) => {
          if (!e.dataTransfer.types.includes(FIELD_DRAG)) return;
          e.preventDefault();
          onField(e.clientX, e.clientY);
        }}
        onDragLeave={onLeave}
        onDrop={(e) => {
          const field = e.dataTransfer.getData(FIELD_DRAG);
          if (!field) return;
          e.preventDefault();
          onFieldDrop(e.clientX, e.clientY, field);
        }}
        onContextMenu={(e) => onMenu(e, e.currentTarget)}
        onPointerDown={(e) => e.button === 0 && onPress(e, e.currentTarget)}
        onClick={onRelease}
        onDoubleClick={(e) => onDouble(e, e.currentTarget)}
        onPointerMove={(e) => onHover(e.clientX, e.clientY, e.currentTarget)}
        onPointerLeave={onLeave}
        onWheel={(e) => onWheel(e.deltaY)}
      >
        {children}
      </div>
    </ContextMenu>
  );
}

const labelOf = (e: ReturnType<typeof elementOf>): string => (e ? (e.name ?? kindName(e.kind)) : '');
