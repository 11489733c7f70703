import { Square, type LucideIcon } from 'lucide-react';
import type { AnyElement } from '../../core/document/meaning.ts';

type Thumbnail = (element?: AnyElement) => LucideIcon;

// One file a kind.
const files = import.meta.glob<{ default: Thumbnail }>('../../kinds/elements/*/thumbnail.ts', { eager: true });

/** The small picture of a kind of element, or of one that looks its own way. */
export const thumbnailOf = (kind: string, element?: AnyElement): LucideIcon =>
  files[`../../kinds/elements/${kind}/thumbnail.ts`]?.default(element) ?? Square;
