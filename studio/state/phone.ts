import { create } from 'zustand';
import type { Place } from '../../player/navigation.ts';

interface PhoneState {
  mode: 'arrange' | 'use';
  size: readonly [number, number];
  dark: boolean;
  folded: boolean;
  /** Where the phone is. */
  place: Place | null;
  /** Where the studio wants it to be. */
  show: Place | null;
  /** The element selected in the Screens workspace. */
  selected: string | null;
  setMode(mode: 'arrange' | 'use'): void;
  setSize(size: readonly [number, number]): void;
  toggleDark(): void;
  toggleFolded(): void;
  setPlace(place: Place): void;
  go(place: Place): void;
  select(id: string | null): void;
}

/** The phone beside the work. */
export const usePhone = create<PhoneState>((set) => ({
  mode: 'use',
  size: [390, 844],
  dark: false,
  folded: false,
  place: null,
  show: null,
  selected: null,
  setMode: (mode) => set({ mode }),
  setSize: (size) => set({ size }),
  toggleDark: () => set((s) => ({ dark: !s.dark })),
  toggleFolded: () => set((s) => ({ folded: !s.folded })),
  setPlace: (place) => set({ place }),
  go: (show) => set({ show: { ...show } }),
  select: (selected) => set({ selected }),
}));
