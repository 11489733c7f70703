import { emptyScreens } from './empty-screens.ts';
import { brokenAccess } from './access.ts';
import { brokenFields } from './broken-fields.ts';
import { closedHistory } from './closed-history.ts';
import { crowdedParts } from './crowded-parts.ts';
import { hostRoutines } from './host-routines.ts';
import { idleRoutines } from './idle-routines.ts';
import { lostMoves } from './lost-moves.ts';
import { lostTabs } from './lost-tabs.ts';
import { mistakenOrder } from './mistaken-order.ts';
import { needlessRules } from './needless-rules.ts';
import { noScreens } from './no-screens.ts';
import { brokenServices } from './services.ts';
import { tellingFigures } from './telling-figures.ts';
import { tellingUnique } from './telling-unique.ts';
import { unfinishedElements } from './unfinished-elements.ts';
import { unfinishedRoutines } from './unfinished-routines.ts';
import { unreachedScreens } from './unreached-screens.ts';
import type { NoteDefinition } from '../../core/preflight/note.ts';

/** Everything that preflight looks for, in the order its notes are listed. One line a kind. */
export const NOTES: readonly NoteDefinition[] = [
  brokenFields,
  brokenServices,
  brokenAccess,
  needlessRules,
  tellingFigures,
  tellingUnique,
  noScreens,
  lostTabs,
  unfinishedElements,
  crowdedParts,
  unreachedScreens,
  emptyScreens,
  idleRoutines,
  closedHistory,
  unfinishedRoutines,
  hostRoutines,
  mistakenOrder,
  lostMoves,
];
