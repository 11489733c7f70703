import { Check, Paperclip, Trash2 } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { listCell, toListCell } from '../../core/fields/lists.ts';
import { fileName } from '../../core/records/format.ts';
import { readPlanText } from '../../core/fields/read-text.ts';
import type { FieldType } from '../../core/tables/schema.ts';
import { fileAddress } from '../../player/file-address.ts';
import { shrink } from '../../player/PhotoInput.tsx';
import { useApp, useEngine } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import { choiceColour } from './CellView.tsx';
import type { EditorProps } from './CellEditor.tsx';

/** A card over the cell; it closes when the person goes elsewhere or presses Escape. */
function Over({
  label,
  onDone,
  children,
  width = 240,
}: {
  label: string;
  onDone(): void;
  children: ReactNode;
  width?: number;
}) {
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!card.current?.contains(document.activeElement)) card.current?.focus();
  }, []);
  return (
    <div
      ref={card}
      role="dialog"
      aria-label={label}
      tabIndex={-1}
      className="float absolute top-0 left-0 z-30 p-1.5 font-normal text-ink outline-none"
      style={{ width }}
      onMouseDown={(e) => e.stopPropagation()}
      onDoubleClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Escape' || (e.key === 'Enter' && !(e.target instanceof HTMLButtonElement))) {
          e.preventDefault();
          onDone();
        }
      }}
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) onDone();
      }}
    >
      {children}
    </div>
  );
}

function Ticks({
  items,
  chosen,
  onToggle,
}: {
  items: { key: string; label: string; colour?: string }[];
  chosen: ReadonlySet<string>;
  onToggle(key: string): void;
}) {
  return (
    <ul role="listbox" aria-multiselectable className="thin-scroll max-h-52 overflow-auto">
      {items.map((c) => (
        <li key={c.key} role="option" aria-selected={chosen.has(c.key)}>
          <button
            type="button"
            onClick={() => onToggle(c.key)}
            className="flex min-h-[28px] w-full items-center gap-2 rounded-md px-2 text-left hover:bg-sunk focus-visible:bg-sunk"
          >
            <Check size={14} className={chosen.has(c.key) ? 'text-kelp' : 'opacity-0'} aria-hidden />
            <span className="truncate rounded-md px-1.5" style={{ background: c.colour }}>
              {c.label}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Several of a field's choices; a word that is none of them is added when Enter is pressed, if that is allowed. */
export function SeveralEditor({ field, cell, typed, onKeep, onDone }: EditorProps) {
  const [chosen, setChosen] = useState(() => listCell(cell.raw));
  const [text, setText] = useState(typed ?? '');
  const kept = useRef(false);
  const done = (): void => {
    if (kept.current) return;
    kept.current = true;
    const next = toListCell(chosen);
    if (next !== cell.raw) onKeep(next);
    onDone(0, 0);
  };
  const toggle = (name: string): void =>
    setChosen(chosen.includes(name) ? chosen.filter((c) => c !== name) : [...chosen, name]);
  const names = [...new Set([...(field.choices ?? []).map((c) => c.name), ...chosen])];
  const found = names.filter((n) => n.toLowerCase().includes(text.toLowerCase()));
  return (
    <Over label={field.name} onDone={done}>
      <input
        autoFocus
        aria-label={field.name}
        className="field mb-1"
        placeholder={field.only ? 'Search' : 'Search, or a new one'}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' || !text.trim()) return;
          e.preventDefault();
          e.stopPropagation();
          const name = found[0] ?? (field.only ? null : text.trim());
          if (name) toggle(name);
          setText('');
        }}
      />
      <Ticks
        items={found.map((name) => ({
          key: name,
          label: name,
          colour: choiceColour(field.choices?.find((c) => c.name === name)?.colour),
        }))}
        chosen={new Set(chosen)}
        onToggle={toggle}
      />
    </Over>
  );
}

/** Several records at the other end of a picked link. */
export function SeveralLinks({ field, cell, typed, onKeep, onDone, table }: EditorProps & { table: string }) {
  const engine = useEngine();
  const [chosen, setChosen] = useState(() => listCell(cell.raw));
  const [text, setText] = useState(typed ?? '');
  const [found, setFound] = useState<{ key: string; label: string }[]>([]);
  const kept = useRef(false);
  useEffect(() => {
    let current = true;
    void engine
      .choices(table, text)
      .then((list) => current && setFound(list.map((c) => ({ key: c.id, label: c.title }))));
    return () => {
      current = false;
    };
  }, [engine, table, text]);
  const done = (): void => {
    if (kept.current) return;
    kept.current = true;
    const next = toListCell(chosen);
    if (next !== cell.raw) onKeep(next);
    onDone(0, 0);
  };
  const linked = (cell.links ?? []).map((l) => ({ key: l.id, label: l.title }));
  const items = [...linked, ...found.filter((f) => !linked.some((l) => l.key === f.key))];
  return (
    <Over label={field.name} onDone={done}>
      <input
        autoFocus
        aria-label={field.name}
        className="field mb-1"
        placeholder="Search"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Ticks
        items={items}
        chosen={new Set(chosen)}
        onToggle={(id) => setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id])}
      />
    </Over>
  );
}

const ACCEPT: Partial<Record<FieldType, string>> = { sound: 'audio/*', picture: 'image/*', file: '*/*' };
const CHOOSE: Partial<Record<FieldType, string>> = { sound: 'Choose a sound', picture: 'Choose a picture' };

/** A file, a sound or a picture: chosen, listened to, taken off; a picture may also be an address. */
export function FileEditor({ field, cell, typed, onKeep, onDone }: EditorProps) {
  const [problem, setProblem] = useState('');
  const [choosing, setChoosing] = useState(false);
  const address = typeof cell.raw === 'string' ? cell.raw : null;
  const choose = async (): Promise<void> => {
    setChoosing(true);
    const [file] = await chooseFiles(ACCEPT[field.type]!, false);
    setChoosing(false);
    if (!file) return;
    try {
      onKeep(field.type === 'picture' ? await shrink(file) : await fileAddress(file));
      onDone(0, 0);
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  return (
    <Over label={field.name} onDone={() => !choosing && onDone(0, 0)} width={260}>
      <div className="p-1.5">
        {field.type === 'picture' ? (
          <input
            autoFocus
            aria-label={field.name}
            className="field mb-2"
            placeholder="https://…, or choose a picture"
            defaultValue={typed ?? (address?.startsWith('data:') ? '' : (address ?? ''))}
            onKeyDown={(e) => {
              if (e.key !== 'Enter') return;
              const text = e.currentTarget.value.trim();
              if (text || !address?.startsWith('data:')) onKeep(text || null);
            }}
          />
        ) : (
          address && <p className="truncate pb-2 font-semibold">{fileName(address)}</p>
        )}
        {field.type === 'picture' && address && /^(https?:|data:image\/)/.test(address) && (
          <img src={address} alt="" className="mb-2 max-h-32 rounded-md" />
        )}
        {address && field.type === 'sound' && <audio controls src={address} className="mb-2 h-8 w-full" />}
        <div className="flex flex-wrap gap-2">
          <Button small icon={Paperclip} autoFocus={field.type !== 'picture'} onClick={() => void choose()}>
            {address ? 'Choose another' : (CHOOSE[field.type] ?? 'Choose a file')}
          </Button>
          {address && (
            <Button
              small
              icon={Trash2}
              onClick={() => {
                onKeep(null);
                onDone(0, 0);
              }}
            >
              Take it off
            </Button>
          )}
        </div>
        {problem && <p className="mt-2 text-sm text-persimmon-deep">{problem}</p>}
      </div>
    </Over>
  );
}

/** A place on a plan: pressed on its picture, or moved with the arrow keys. */
export function PlanEditor({ field, cell, onKeep, onDone, plan }: EditorProps & { plan: string }) {
  const app = useApp();
  const file = app.files.find((f) => `file:${f.id}` === plan);
  const source = file ? `data:${file.type};base64,${file.data}` : plan;
  const start = typeof cell.raw === 'string' ? readPlanText(cell.raw) : null;
  const [spot, setSpot] = useState(start);
  const kept = useRef(false);
  const done = (): void => {
    if (kept.current) return;
    kept.current = true;
    const next = spot ? `${spot.x},${spot.y}` : null;
    if (next !== cell.raw) onKeep(next);
    onDone(0, 0);
  };
  const at = (x: number, y: number): void => {
    const within = (n: number): number => Math.round(Math.min(1, Math.max(0, n)) * 1000) / 1000;
    setSpot({ x: within(x), y: within(y) });
  };
  const move = (dx: number, dy: number): void => at((spot?.x ?? 0.5) + dx, (spot?.y ?? 0.5) + dy);
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-0.01, 0],
    ArrowRight: [0.01, 0],
    ArrowUp: [0, -0.01],
    ArrowDown: [0, 0.01],
  };
  return (
    <Over label={field.name} onDone={done} width={300}>
      <button
        type="button"
        autoFocus
        aria-label={`Place on the plan: ${spot ? `${Math.round(spot.x * 100)} % across, ${Math.round(spot.y * 100)} % down` : 'none'}. Arrow keys move it.`}
        className="relative block w-full overflow-hidden rounded-md border border-line"
        onClick={(e) => {
          if (e.detail === 0) return; // pressed by a key
          const box = e.currentTarget.getBoundingClientRect();
          at((e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
        }}
        onKeyDown={(e) => {
          const step = steps[e.key];
          if (!step) return;
          e.preventDefault();
          e.stopPropagation();
          move(step[0], step[1]);
        }}
      >
        <img src={source} alt="" className="block w-full" draggable={false} />
        {spot && (
          <span
            aria-hidden
            className="absolute size-3.5 -translate-1/2 rounded-full border-2 border-white bg-persimmon"
            style={{ left: `${spot.x * 100}%`, top: `${spot.y * 100}%` }}
          />
        )}
      </button>
      <div className="mt-1.5 flex justify-between">
        <Button small look="quiet" onClick={() => setSpot(null)}>
          No place
        </Button>
        <Button small onClick={done}>
          Keep it
        </Button>
      </div>
    </Over>
  );
}
