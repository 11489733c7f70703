import { create } from 'zustand';
import type { NewPlace } from '../../core/phone/places.ts';

interface PhoneState {
  mode: 'arrange' | 'use';
  size: readonly [number, number];
  dark: boolean;
  folded: boolean;
  /** Where the phone is. */
  place: NewPlace | null;
  /** Where the studio wants it to be. */
  show: NewPlace | null;
  /** The element selected in the Screens workspace. */
  selected: string | null;
  /** All selected elements, when they are several; that one among them. */
  several: readonly string[];
  /** What the device beside the work is said not to have, as its asks are called. */
  lacks: readonly string[];
  setMode(mode: 'arrange' | 'use'): void;
  setSize(size: readonly [number, number]): void;
  toggleDark(): void;
  toggleFolded(): void;
  setPlace(place: NewPlace): void;
  go(place: NewPlace): void;
  select(id: string | null): void;
  /** Takes an element into the selection, or out of it. Gives the one to work on. */
  toggle(id: string): string | null;
  toggleLack(ability: string): void;
  selectAll(ids: readonly string[]): void;
}

/** The phone beside the work. */
export const usePhone = create<PhoneState>((set, get) => ({
  mode: 'use',
  size: [390, 844],
  dark: false,
  folded: false,
  place: null,
  show: null,
  selected: null,
  several: [],
  lacks: [],
  setMode: (mode) => set({ mode }),
  setSize: (size) => set({ size }),
  toggleDark: () => set((s) => ({ dark: !s.dark })),
  toggleFolded: () => set((s) => ({ folded: !s.folded })),
  setPlace: (place) => set({ place }),
  go: (show) => set({ show: { ...show } }),
  // Another one ends the selection of several.
  select: (selected) =>
    set((s) => ({ selected, several: selected !== null && s.several.includes(selected) ? s.several : [] })),
  toggle: (id) => {
    const { selected, several } = get();
    const now = several.length ? several : selected ? [selected] : [];
    const next = now.includes(id) ? now.filter((x) => x !== id) : [...now, id];
    const one = next.includes(selected ?? '') ? selected : (next.at(-1) ?? null);
    set({ selected: one, several: next.length > 1 ? next : [] });
    return one;
  },
  toggleLack: (a) => set((s) => ({ lacks: s.lacks.includes(a) ? s.lacks.filter((x) => x !== a) : [...s.lacks, a] })),
  selectAll: (several) => set({ several: several.length > 1 ? several : [] }),
}));
