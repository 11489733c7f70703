import { useEffect, useMemo, useRef } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { Inside, sizeOf } from '../../../player/ElementView.tsx';
import { useKept } from '../../../player/kept.ts';
import type { playfield } from './definition.ts';
import { step } from './motion.ts';
import { FieldGround, type Ground, type SpriteOnField } from './view-ground.ts';
import './playfield.css';

/** Moves its sprites at the rate of the screen, without drawing anything anew: only their transforms change. */
export default function PlayfieldView({ e }: { e: Drawn<typeof playfield> }) {
  const { url } = useKept(usePlayer().api, e.ground);
  const box = useRef<HTMLDivElement>(null);
  // Kept, since asking the page for it between two sprites would have it lay out everything once for each.
  const width = useRef(0);
  const sprites = useRef(new Map<string, SpriteOnField>());
  const { tall, runs } = e;
  const ground = useMemo((): Ground => {
    const place = ({ moving: m, node }: SpriteOnField): void => {
      const [x, y] = [(m.x - m.radius) * width.current, (m.y - m.radius) * width.current];
      node.style.transform = `translate(${x}px, ${y}px)`;
    };
    return {
      tall,
      place,
      join(sprite) {
        const all = sprites.current;
        const { key } = sprite.moving;
        all.set(key, sprite);
        place(sprite);
        return () => void (all.get(key) === sprite && all.delete(key));
      },
    };
  }, [tall]);

  useEffect(() => {
    const watch = new ResizeObserver(([field]) => {
      width.current = field!.contentRect.width;
      for (const f of sprites.current.values()) ground.place(f);
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, [ground]);

  useEffect(() => {
    if (!runs) return undefined;
    let frame = 0;
    let before: number | null = null;
    const turn = (now: number): void => {
      const all = [...sprites.current.values()];
      const told = step(
        all.map((f) => f.moving),
        before === null ? 0 : (now - before) / 1000,
        tall,
      );
      before = now;
      for (const f of all) ground.place(f);
      for (const t of told) {
        const f = sprites.current.get(t.key)!;
        if (f.acts[t.what]) f.happens(t.what);
      }
      frame = requestAnimationFrame(turn);
    };
    frame = requestAnimationFrame(turn);
    return () => cancelAnimationFrame(frame);
  }, [runs, tall, ground]);

  return (
    <div
      className="k-playfield"
      data-e={e.id}
      ref={box}
      role="group"
      aria-label={e.runs ? 'A play field, running' : 'A play field, at rest'}
      style={{ ...sizeOf(e), aspectRatio: 1 / tall }}
    >
      {url && <img src={url} alt="" draggable={false} className="k-playfield-ground" />}
      <FieldGround value={ground}>
        <Inside of={e.children} />
      </FieldGround>
    </div>
  );
}
