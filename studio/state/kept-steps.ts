import type { Patch } from 'immer';
import { z } from 'zod';
import { VERSION } from '../../core/document/version.ts';
import type { Written } from '../../core/host/undo.ts';
import { CellsSchema, ChangeSchema, type Draft } from '../../core/records/change.ts';

/** One undoable step: what it did to the document, to the records, or to both. */
export interface Step {
  label: string;
  patches: Patch[];
  inverse: Patch[];
  /** The changes of records it makes. */
  drafts: Draft[];
  /** What takes back, or does again, what it has written; null before that, and where it writes nothing. */
  written: Written | null;
  /** Edits of one thing in quick succession, such as typing, are one step. */
  merge: string | null;
  at: number;
  /** The tried run that it did for real. */
  tried?: string | undefined;
  /** It was made before the app was last opened. */
  kept?: true;
  /** It is being undone or done again: nobody could tell later how far that came. */
  turning?: boolean;
}

/** The steps of an app as this browser keeps them: each as a text, which is written once and kept as often as needed. */
export interface KeptSteps {
  /** The app. */
  id: string;
  /** The document that they lead to: see {@link basisOf}. */
  basis: string;
  past: string[];
  future: string[];
}

/** Of so many letters together the newest steps are kept. */
const MOST_LETTERS = 2_000_000;
const MOST_STEPS = 100;

/** Steps fit exactly one state of a document: the one that was kept with them, read by the same version of its form. */
export const basisOf = (kept: { changed: string }): string => `${VERSION} ${kept.changed}`;

const at = { table: z.string(), record: z.string() };
const DraftSchema = z.discriminatedUnion('do', [
  z.object({ ...at, do: z.literal('set'), cells: CellsSchema }),
  z.object({
    ...at,
    do: z.literal('raise'),
    by: z.record(z.string(), z.number()),
    cells: CellsSchema.optional(),
    makes: CellsSchema.optional(),
  }),
  z.object({ ...at, do: z.literal('remove') }),
  z.object({ ...at, do: z.literal('restore'), cells: CellsSchema.optional() }),
]);
const PatchSchema = z.object({
  op: z.enum(['replace', 'remove', 'add']),
  path: z.array(z.union([z.string(), z.number()])),
  value: z.unknown().optional(),
});
const StepSchema = z.object({
  label: z.string(),
  patches: z.array(PatchSchema),
  inverse: z.array(PatchSchema),
  written: z.object({ made: z.array(ChangeSchema), back: z.array(DraftSchema) }).nullable(),
  at: z.number(),
  tried: z.string().optional(),
});
const StepsSchema = z.object({
  id: z.string(),
  basis: z.string(),
  past: z.array(z.string()),
  future: z.array(z.string()),
});

/** Steps as texts, as long as what they have written is the same. */
const texts = new WeakMap<Step, { written: Written | null; text: string }>();
function textOf(step: Step): string {
  const known = texts.get(step);
  if (known && known.written === step.written) return known.text;
  const { label, patches, inverse, written, at: when, tried } = step;
  const text = JSON.stringify({ label, patches, inverse, written, at: when, ...(tried && { tried }) });
  texts.set(step, { written, text });
  return text;
}

/** A step whose records are still being written: nobody could tell later whether they were. */
const isOpen = (s: Step): boolean => s.turning === true || (s.drafts.length > 0 && !s.written);

/** The newest of a row of steps, as many as are kept. The last is the newest. */
function newest(steps: readonly Step[]): string[] {
  const kept: string[] = [];
  let letters = 0;
  for (const s of steps.slice(-MOST_STEPS).toReversed()) {
    if (isOpen(s)) {
      // Without its change of the document those before it do not fit; one that changes records alone is left out.
      if (s.patches.length) break;
      continue;
    }
    const text = textOf(s);
    letters += text.length;
    if (letters > MOST_LETTERS) break;
    kept.push(text);
  }
  return kept.toReversed();
}

/** Steps as they are kept beside the document that they lead to. */
export const keptSteps = (
  app: { id: string; changed: string },
  { past, future }: { past: readonly Step[]; future: readonly Step[] },
): KeptSteps => ({ id: app.id, basis: basisOf(app), past: newest(past), future: newest(future) });

/** Kept steps for going on with; none where they do not fit the document, or are not what was kept. */
export function readSteps(kept: unknown, app: { id: string; changed: string }): { past: Step[]; future: Step[] } {
  const none = { past: [], future: [] };
  const read = StepsSchema.safeParse(kept);
  if (!read.success || read.data.id !== app.id || read.data.basis !== basisOf(app)) return none;
  const step = (text: string): Step => {
    const { patches, inverse, ...rest } = StepSchema.parse(JSON.parse(text));
    return { ...rest, patches: patches as Patch[], inverse: inverse as Patch[], drafts: [], merge: null, kept: true };
  };
  try {
    return { past: read.data.past.map(step), future: read.data.future.map(step) };
  } catch {
    return none;
  }
}
