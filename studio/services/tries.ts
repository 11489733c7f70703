import { create } from 'zustand';
import type { Answered } from '../../core/services/asking.ts';
import type { Sample } from '../../core/services/schema.ts';
import type { Tried } from '../engine/asking.ts';

/** What came of a try, or a sample that is looked at in its place. */
export type Shown = Tried | { filled: null; answer: Answered; failed: null; sample: Sample };

/** What came of trying requests, by their ids, until the page is closed. */
export const useTries = create<{
  tries: Record<string, Shown | { problem: string }>;
  going: Record<string, true>;
  /** The files that inputs are tried with, by their ids, with their content. */
  files: Record<string, string>;
  began(request: string): void;
  came(request: string, tried: Shown | { problem: string }): void;
  putFile(input: string, file: string): void;
}>((set) => ({
  tries: {},
  going: {},
  files: {},
  putFile: (input, file) => set((s) => ({ files: { ...s.files, [input]: file } })),
  began: (request) => set((s) => ({ going: { ...s.going, [request]: true } })),
  came: (request, tried) =>
    set((s) => {
      const { [request]: _over, ...going } = s.going;
      return { going, tries: { ...s.tries, [request]: tried } };
    }),
}));
