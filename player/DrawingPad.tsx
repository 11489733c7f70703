import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import type { Cell } from '../core/fields/lists.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import { usePlayer } from './context.ts';
import { blobOf } from './device.ts';
import { useKept } from './kept.ts';
import './drawing.css';

interface Stroke {
  colour: string;
  size: number;
  /** Across and down as shares of the width of the pad. */
  points: [x: number, y: number][];
}

const COLOURS = ['#20302C', '#C7421F', '#A35A00', '#2F6F4E', '#2D5BA8', '#FFFFFF'];
const SIZES = [3, 7, 14];
const SIGNS_WITH = 4;
/** How many pixels across a drawing is kept with. */
const WIDE = 1000;
/** Height to width, of a drawing and of a name. */
const [SHAPE, NAME_SHAPE] = [0.75, 0.36];
/** So long after a stroke it is kept, in milliseconds. */
const PAUSE_MS = 500;

/** What is read aloud of a pad, with and without something on it. */
const DRAWING = { empty: 'An empty sheet to draw on', full: 'A drawing' };
const SIGNATURE = { empty: 'A line to sign on', full: 'A signature' };

/** A sheet to draw on by finger, pen or mouse, over a picture where there is one; kept as a picture with clear ground. */
export function DrawingPad({
  id,
  value,
  behind,
  set,
  onTouch,
  signs = false,
}: {
  id: string;
  value: string;
  /** The address of the picture behind, which is not part of what is kept. */
  behind: string;
  set(cell: Cell): void;
  /** Somebody begins a stroke, so far across and down in percent. */
  onTouch?: ((across: number, down: number) => void) | undefined;
  /** A name is written on it, with one pen above a line. */
  signs?: boolean;
}) {
  const { api } = usePlayer();
  const shape = signs ? NAME_SHAPE : SHAPE;
  const names = signs ? SIGNATURE : DRAWING;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [strokes, setStrokes] = useState<Stroke[]>([]);
  const [colour, setColour] = useState(COLOURS[0]!);
  const [size, setSize] = useState(signs ? SIGNS_WITH : SIZES[1]!);
  const [problem, setProblem] = useState('');
  /** What was there before these strokes; its address is what was kept last. */
  const [base, setBase] = useState<{ of: string; picture: ImageBitmap | null }>({ of: '', picture: null });
  const kept = useRef(value);
  const ground = useKept(api, behind);

  // What was drawn before, or came from elsewhere, is the ground of what is drawn now.
  useEffect(() => {
    if (value === base.of || (value === kept.current && strokes.length > 0)) return undefined;
    let current = true;
    void (async () => {
      const picture = value ? await pictureAt(value, api) : null;
      if (!current) return;
      kept.current = value;
      setStrokes([]);
      setBase({ of: value, picture });
    })();
    return () => {
      current = false;
    };
  }, [value, api, base.of, strokes.length]);

  useLayoutEffect(() => {
    const pen = canvas.current?.getContext('2d');
    if (!pen) return;
    pen.clearRect(0, 0, WIDE, WIDE * shape);
    if (base.picture) pen.drawImage(base.picture, 0, 0, WIDE, WIDE * shape);
    for (const s of strokes) draw(pen, s);
  }, [strokes, base, shape]);

  const changed = useRef(false);
  const keep = useRef(async (): Promise<void> => {});
  useEffect(() => {
    keep.current = async () => {
      changed.current = false;
      if (strokes.length === 0 && !base.picture) {
        kept.current = '';
        set(null);
        return;
      }
      const content = await new Promise<Blob | null>((done) => {
        canvas.current?.toBlob(done, 'image/png');
      });
      try {
        if (!content) throw new Error('The drawing could not be kept.');
        const address = await api.keepFile(content, signs ? 'signature.png' : 'drawing.png');
        kept.current = address;
        set(address);
        setProblem('');
      } catch (e) {
        setProblem((e as Error).message);
      }
    };
  });
  useEffect(() => {
    if (!changed.current) return undefined;
    const t = setTimeout(() => void keep.current(), PAUSE_MS);
    return () => clearTimeout(t);
  }, [strokes, base]);
  // What was drawn last is kept when the screen is left at once.
  useEffect(
    () => () => {
      if (changed.current) void keep.current();
    },
    [],
  );

  const pointOf = (e: PointerEvent): [number, number] => {
    const box = canvas.current!.getBoundingClientRect();
    return [(e.clientX - box.left) / box.width, ((e.clientY - box.top) / box.height) * shape];
  };
  const begin = (e: PointerEvent): void => {
    e.preventDefault();
    canvas.current!.setPointerCapture(e.pointerId);
    changed.current = true;
    const at = pointOf(e);
    onTouch?.(at[0] * 100, (at[1] / shape) * 100);
    setStrokes((now) => [...now, { colour, size, points: [at] }]);
  };
  const move = (e: PointerEvent): void => {
    if (!canvas.current!.hasPointerCapture(e.pointerId)) return;
    const point = pointOf(e);
    setStrokes((now) => [...now.slice(0, -1), { ...now.at(-1)!, points: [...now.at(-1)!.points, point] }]);
  };
  const change = (next: Stroke[], wipe = false): void => {
    changed.current = true;
    setStrokes(next);
    if (wipe) setBase({ of: '', picture: null });
  };
  return (
    <div className="k-drawing">
      <div className="k-drawing-sheet" data-signs={signs || undefined} style={{ aspectRatio: 1 / shape }}>
        {ground.url && <img src={ground.url} alt="" draggable={false} />}
        <canvas
          ref={canvas}
          id={id}
          width={WIDE}
          height={WIDE * shape}
          role="img"
          aria-label={names[strokes.length || base.picture ? 'full' : 'empty']}
          onPointerDown={begin}
          onPointerMove={move}
        />
      </div>
      <div className="k-drawing-tools" role="group" aria-label={signs ? 'The signature' : 'Pens'}>
        {!signs && (
          <>
            {COLOURS.map((c, i) => (
              <button
                key={c}
                type="button"
                aria-label={`Colour ${i + 1}`}
                aria-pressed={c === colour}
                onClick={() => setColour(c)}
              >
                <i style={{ background: c, width: 24, height: 24 }} />
              </button>
            ))}
            <span className="k-drawing-line" />
            {SIZES.map((s, i) => (
              <button
                key={s}
                type="button"
                aria-label={['Thin', 'Middling', 'Thick'][i]}
                aria-pressed={s === size}
                onClick={() => setSize(s)}
              >
                <i style={{ background: 'currentcolor', width: s + 3, height: s + 3 }} />
              </button>
            ))}
          </>
        )}
        <button type="button" disabled={strokes.length === 0} onClick={() => change(strokes.slice(0, -1))}>
          One back
        </button>
        <button type="button" disabled={strokes.length === 0 && !base.picture} onClick={() => change([], true)}>
          Wipe
        </button>
      </div>
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}

const pictureAt = async (source: string, api: PhoneApi): Promise<ImageBitmap | null> => {
  const content = await blobOf(source, api).catch(() => null);
  return content && createImageBitmap(content).catch(() => null);
};

/** Draws a stroke smoothly through its points; a single one is a dot. */
function draw(pen: CanvasRenderingContext2D, { colour, size, points }: Stroke): void {
  pen.strokeStyle = pen.fillStyle = colour;
  pen.lineWidth = size * 2;
  pen.lineCap = pen.lineJoin = 'round';
  const at = points.map(([x, y]) => [x * WIDE, y * WIDE] as const);
  const [first, ...rest] = at;
  if (!first) return;
  pen.beginPath();
  if (rest.length === 0) {
    pen.arc(first[0], first[1], size, 0, Math.PI * 2);
    pen.fill();
    return;
  }
  pen.moveTo(...first);
  rest.forEach(([x, y], i) => {
    const next = rest[i + 1];
    if (next) pen.quadraticCurveTo(x, y, (x + next[0]) / 2, (y + next[1]) / 2);
    else pen.lineTo(x, y);
  });
  pen.stroke();
}
