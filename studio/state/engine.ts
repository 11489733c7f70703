import { proxy, releaseProxy, wrap, type Remote } from 'comlink';
import { EffectChannel, type PlayerApi } from '../../player/api.ts';
import { remoteApi } from '../../player/remote.ts';
import type { StudioEngine } from '../engine/engine.ts';
import type { EngineEvent } from '../engine/events.ts';
import { recordsDbName, type KeptApp } from './registry.ts';
import { revised } from './revisions.ts';
import { tellProblem } from './saving.ts';
import { useStepping } from './stepping.ts';
import { say } from './trace.ts';

/** What taps and routines do on the phone. */
export const phoneEffects = new EffectChannel();

export interface RunningEngine {
  engine: Remote<StudioEngine>;
  /** The same, as the phone asks it. */
  phone: PlayerApi;
  stop(): void;
}

function hear(e: EngineEvent): void {
  switch (e.kind) {
    case 'changed':
      return revised.tables(e.tables);
    case 'happened':
      return say(e.what);
    case 'effect':
      return phoneEffects.send(e.effect);
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
  const engine = wrap<StudioEngine>(worker);
  const host = kept.released && { address: kept.released.address, key: kept.ownerKey, app: kept.released.app };
  await engine.open(kept.app, recordsDbName(kept.id), host, proxy(hear), held);
  return {
    engine,
    phone: remoteApi(engine as unknown as Remote<PlayerApi>),
    stop() {
      engine[releaseProxy]();
      worker.terminate();
    },
  };
}
