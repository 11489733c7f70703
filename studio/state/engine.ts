import { proxy, releaseProxy, wrap, type Remote } from 'comlink';
import type { PhoneApi } from '../../core/phone/api.ts';
import type { WalkApi } from '../../core/phone/walk.ts';
import { remotePhone, remoteWalk } from '../../player/remote.ts';
import type { StudioEngine } from '../engine/engine.ts';
import type { EngineEvent } from '../engine/events.ts';
import { recordsDbName, type KeptApp } from './registry.ts';
import { revised } from './revisions.ts';
import { tellProblem } from './saving.ts';
import { useStepping } from './stepping.ts';
import { say } from './trace.ts';

type Desk =
  | 'phone'
  | 'looking'
  | 'seeing'
  | 'editing'
  | 'importing'
  | 'exporting'
  | 'trying'
  | 'trials'
  | 'runs'
  | 'host'
  | 'asking'
  | 'persona';

/** The engine as the page asks it, desk by desk. */
export type EngineRemote = Remote<Omit<StudioEngine, Desk>> & { [D in Desk]: Remote<StudioEngine[D]> };

export interface RunningEngine {
  engine: EngineRemote;
  /** The same, as the phone asks it: with all records, or as one of the people gets them. */
  phone: PhoneApi;
  walk: WalkApi;
  persona: { phone: PhoneApi; walk: WalkApi };
  stop(): void;
}

function hear(e: EngineEvent): void {
  switch (e.kind) {
    case 'changed':
      return revised.tables(e.tables);
    case 'happened':
      return say(e.what);
    case 'paused':
      return useStepping.setState({ paused: e.paused });
    case 'mirror':
      return revised.mirrors();
    case 'host':
      return revised.host({ online: e.online, waiting: e.waiting, sending: e.sending });
    case 'failed':
      return tellProblem(e.words);
  }
}

/** Starts the engine of an app in a worker of its own. Files that `held` names are kept: undoing may bring them back. */
export async function startEngine(kept: KeptApp, held: unknown = null): Promise<RunningEngine> {
  const worker = new Worker(new URL('../engine/engine.ts', import.meta.url), { type: 'module' });
  const engine = wrap<StudioEngine>(worker) as unknown as EngineRemote;
  const host = kept.released && { address: kept.released.address, key: kept.ownerKey, app: kept.released.app };
  await engine.open(kept.app, recordsDbName(kept.id), host, proxy(hear), held, kept.ownerKey);
  const asked = (there: Remote<PhoneApi> & { walk: Remote<WalkApi> }): RunningEngine['persona'] => ({
    phone: remotePhone(there, {
      // What is asked may come from a run that is tried.
      answered: async (id, answer) => {
        await Promise.all([there.answered(id, answer), engine.runs.answered(id, answer)]);
      },
    }),
    walk: remoteWalk(there.walk),
  });
  return {
    engine,
    ...asked(engine.phone as never),
    persona: asked(engine.persona.phone as never),
    stop() {
      engine[releaseProxy]();
      worker.terminate();
    },
  };
}
