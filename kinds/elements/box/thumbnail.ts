import { BoxSelect, Rows3 } from 'lucide-react';
import type { AnyElement } from '../../../core/document/meaning.ts';

export default (box?: AnyElement & { runs?: string }) => (box?.runs === 'across' ? Rows3 : BoxSelect);
