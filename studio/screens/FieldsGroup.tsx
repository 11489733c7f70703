import { ChevronDown, ChevronRight } from 'lucide-react';
import { create } from 'zustand';
import type { Element, Screen } from '../../core/app/schema.ts';
import { slotsOf } from '../../core/document/meaning.ts';
import { insideOf } from '../../core/app/edits.ts';
import { reachInside } from '../../core/screens/reach.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { fieldIcon } from '../data/fields.ts';
import { usePhone } from '../state/phone.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { useReach } from './places.ts';
import { dragText, FIELD_DRAG, putField } from './put-field.ts';

/** The fields of the records that are at hand at the selected element: dragged onto the phone, or pressed to put one there. */
export function FieldsGroup({ screen, at, open }: { screen: Screen; at: Element; open(id: string): void }) {
  const app = useApp();
  const model = useModel();
  const { unfolded, setUnfolded } = useUnfolded();
  const outer = useReach(screen, at.id);
  const [slot] = slotsOf(elementKinds.get(at.kind)?.properties ?? {}, 'elements');
  const { things, form } = slot ? reachInside(elementKinds, model, outer, at, slot) : outer;
  const ids = [...things.flatMap((t) => (t.type.k === 'record' && !t.variable ? [t.type.table] : [])), form ?? ''];
  // The nearest record is the last.
  const table = app.tables.find((t) => t.id === (form ?? ids.filter(Boolean).at(-1)));
  if (!table) return null;
  const where = insideOf(at) ? 'inside' : 'after';
  return (
    <li className="mt-0.5 mb-1.5 ml-3.5">
      <button
        type="button"
        aria-expanded={unfolded}
        onClick={() => setUnfolded(!unfolded)}
        className="flex h-[26px] w-full items-center gap-1 rounded-control px-1.5 text-left text-sm text-ink-soft hover:bg-sunk"
      >
        {unfolded ? <ChevronDown size={13} aria-hidden /> : <ChevronRight size={13} aria-hidden />}
        <span className="truncate">Fields of {table.name}</span>
      </button>
      {unfolded && (
        <ul>
          {table.fields.map((f) => {
            const Icon = fieldIcon(f.type);
            return (
              <li key={f.id}>
                <button
                  type="button"
                  draggable
                  data-drag-field={f.id}
                  title={`Drag ${f.name} onto the phone, or press it to put it here`}
                  onDragStart={(e) => {
                    usePhone.getState().setMode('arrange');
                    e.dataTransfer.setData(FIELD_DRAG, dragText(table.id, f.id));
                    e.dataTransfer.effectAllowed = 'copy';
                  }}
                  onClick={() => void putField(dragText(table.id, f.id), { id: at.id, where }, open)}
                  className="flex h-[26px] w-full cursor-grab items-center gap-2 rounded-control px-2 text-left hover:bg-sunk active:cursor-grabbing"
                >
                  <Icon size={13} className="shrink-0 text-ink-faint" aria-hidden />
                  <span className="min-w-0 flex-1 truncate">{f.name}</span>
                </button>
              </li>
            );
          })}
        </ul>
      )}
    </li>
  );
}

/** Whether the fields are unfolded, wherever they are shown next. */
const useUnfolded = create<{ unfolded: boolean; setUnfolded(unfolded: boolean): void }>((set) => ({
  unfolded: false,
  setUnfolded: (unfolded) => set({ unfolded }),
}));
