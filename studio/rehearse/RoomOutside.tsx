import { useState } from 'react';
import type { Routine } from '../../core/app/schema.ts';
import type { ServiceFault } from '../../core/rehearsal/samples.ts';
import { sampleCall } from '../../core/runs/sample-call.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Button, Note } from '../ui/controls.tsx';
import { useRoom } from './room.ts';

const FAULTS: [ServiceFault, string][] = [
  ['none', 'answers from its samples'],
  ['away', 'is not there'],
  ['too slow', 'is too slow'],
  ['broken', 'has a fault (500)'],
];

/** Other people’s systems in a rehearsal: how services answer, and calls of the app’s own addresses. */
export function RoomOutside() {
  const app = useRoom((s) => s.app);
  const engine = useRoom((s) => s.engine);
  const faults = useRoom((s) => s.state?.faults);
  if (!app || !engine || !faults) return <p className="px-4 py-3 text-ink-soft">Looking</p>;
  const services = app.services ?? [];
  const hooks = app.routines.filter((r) => r.starts?.some((t) => t.on === 'hook called'));
  return (
    <div className="space-y-5 px-4 py-3">
      <section aria-label="Services">
        <h3 className="mb-1 font-text text-md font-semibold tracking-normal">Services</h3>
        {services.length === 0 && <p className="text-ink-soft">The app asks no services.</p>}
        <ul className="leading-[30px]">
          {services.map((s) => (
            <li key={s.id}>
              {s.name}{' '}
              <ChoiceChip<ServiceFault>
                name={`How ${s.name} is`}
                value={faults[s.id] ?? 'none'}
                choices={FAULTS.map(([value, label]) => ({ value, label }))}
                onChange={(fault) => void engine.room.setFault(s.id, fault)}
              />
            </li>
          ))}
        </ul>
        {services.length > 0 && (
          <p className="mt-1 text-sm text-ink-soft">
            Nobody outside is asked: a request answers with the sample that was kept when it was tried in Services.
          </p>
        )}
      </section>
      <section aria-label="Calls">
        <h3 className="mb-1 font-text text-md font-semibold tracking-normal">Calls of other systems</h3>
        {hooks.length === 0 && <p className="text-ink-soft">No routine starts when another system calls.</p>}
        <ul className="space-y-3">
          {hooks.map((r) => (
            <Hook key={r.id} routine={r} call={(body) => engine.room.call(r.id, body)} />
          ))}
        </ul>
      </section>
    </div>
  );
}

function Hook({ routine, call }: { routine: Routine; call(body: string): Promise<void> }) {
  const [body, setBody] = useState(() => sampleCall(routine.inputs ?? []));
  const [problem, setProblem] = useState('');
  const send = async (): Promise<void> => {
    setProblem('');
    await call(body).catch((e: Error) => setProblem(e.message));
  };
  return (
    <li className="space-y-2">
      <p className="font-semibold">{routine.name}</p>
      <textarea
        aria-label={`What is sent to ${routine.name}`}
        className="field w-full font-mono text-xs"
        rows={4}
        value={body}
        onChange={(e) => setBody(e.target.value)}
      />
      {problem && <Note tone="bad">{problem}</Note>}
      <div className="flex justify-end">
        <Button small onClick={() => void send()}>
          Call it
        </Button>
      </div>
    </li>
  );
}
