import { useContext, useEffect, useLayoutEffect, useRef, type PointerEvent } from 'react';
import type { Knows } from '../../../core/routines/trigger.ts';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { iconOf } from '../../../player/icons.tsx';
import { useKept } from '../../../player/kept.ts';
import { FieldGround, type SpriteOnField } from '../playfield/view-ground.ts';
import type { Moving } from '../playfield/motion.ts';
import type { sprite } from './definition.ts';

/** Where a sprite stands on its field, in percent. */
const placeOf = ({ x, y }: Moving, tall: number): Knows => ({
  'how far across': x * 100,
  'how far down': (y / tall) * 100,
});

/** A sprite: the field around moves it; tapped or dragged it does what it says. */
export default function SpriteView({ e }: { e: Drawn<typeof sprite> }) {
  const { tap, api } = usePlayer();
  const ground = useContext(FieldGround);
  const node = useRef<HTMLDivElement>(null);
  const standing = useRef<SpriteOnField | null>(null);
  const grip = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const { url } = useKept(api, e.picture);
  const Icon = iconOf(e.icon);

  useLayoutEffect(() => {
    if (!ground || !node.current) return undefined;
    const made: SpriteOnField = {
      moving: {
        key: e.key,
        x: e.x,
        y: e.y * ground.tall,
        radius: e.size / 2,
        heading: e.heading,
        speed: e.speed,
        atEdge: e.atEdge,
        held: false,
        edge: false,
        met: new Set(),
      },
      node: node.current,
      acts: { edge: e.edge === 'act', meets: e.meets === 'act' },
      happens: (what) => tap(e.key, e.id, what, placeOf(made.moving, ground.tall)),
    };
    standing.current = made;
    return ground.join(made);
    // What changes of it is taken in below; it joins once.
  }, [ground, e.key]);
  const change = (recipe: (s: SpriteOnField) => void): void => {
    if (!standing.current) return;
    recipe(standing.current);
    ground?.place(standing.current);
  };
  // A place that is worked out anew is where it is from now on; so are its heading and its speed.
  useEffect(() => change((s) => Object.assign(s.moving, { x: e.x, y: e.y * (ground?.tall ?? 1) })), [e.x, e.y]);
  useEffect(() => change((s) => Object.assign(s.moving, { heading: e.heading, speed: e.speed })), [e.heading, e.speed]);
  useEffect(
    () =>
      change((s) => {
        Object.assign(s.moving, { radius: e.size / 2, atEdge: e.atEdge });
        s.acts = { edge: e.edge === 'act', meets: e.meets === 'act' };
        s.happens = (what) => tap(e.key, e.id, what, placeOf(s.moving, ground?.tall ?? 1));
      }),
    [e.size, e.atEdge, e.edge, e.meets, e.key, e.id, tap],
  );

  const here = (): Knows => (standing.current ? placeOf(standing.current.moving, ground?.tall ?? 1) : {});
  const drag = (ev: PointerEvent<HTMLElement>): void => {
    const from = grip.current;
    if (!from || !ev.currentTarget.hasPointerCapture(ev.pointerId)) return;
    from.moved ||= Math.abs(ev.clientX - from.x) + Math.abs(ev.clientY - from.y) > 6;
    const field = node.current!.parentElement!.getBoundingClientRect();
    change((s) => {
      s.moving.held = true;
      s.moving.x = (ev.clientX - field.left) / field.width;
      s.moving.y = ((ev.clientY - field.top) / field.height) * (ground?.tall ?? 1);
    });
  };
  const letGo = (): void => {
    change((s) => {
      s.moving.held = false;
    });
    if (grip.current?.moved && e.dragged === 'act') tap(e.key, e.id, 'dragged', here());
  };
  return (
    // What moves is a plain box: a button whose style changes at every frame costs several times as much.
    <div
      ref={node}
      className="k-sprite-place"
      data-still={ground ? undefined : true}
      style={{ width: `${e.size * 100}%` }}
    >
      <button
        type="button"
        className="k-sprite"
        data-e={e.id}
        aria-label={e.label}
        // At once, not when the finger is lifted: by then the sprite is elsewhere.
        onPointerDown={(ev) => {
          if (e.drags) {
            grip.current = { x: ev.clientX, y: ev.clientY, moved: false };
            ev.currentTarget.setPointerCapture(ev.pointerId);
          } else if (e.tap === 'act') tap(e.key, e.id, 'tap', here());
        }}
        onPointerMove={drag}
        onPointerUp={() => {
          if (e.drags && !grip.current?.moved && e.tap === 'act') tap(e.key, e.id, 'tap', here());
          letGo();
          grip.current = null;
        }}
        onKeyDown={(k) => {
          if ((k.key === 'Enter' || k.key === ' ') && e.tap === 'act') tap(e.key, e.id, 'tap', here());
        }}
      >
        {url ? <img src={url} alt="" draggable={false} /> : Icon ? <Icon size="100%" aria-hidden /> : null}
      </button>
    </div>
  );
}
