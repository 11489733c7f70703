import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { answered } from '../../core/services/asking.ts';
import { replyOf } from '../../core/services/samples.ts';
import type { Sample, ServiceRequest } from '../../core/services/schema.ts';
import { useEngine } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import type { ChangeRequest } from './change-request.ts';
import { useTries } from './tries.ts';

/** A sample as it is shown in place of an answer that came just now. */
export const shownSample = (sample: Sample) => {
  const came = replyOf(sample);
  return 'reply' in came ? { filled: null, answer: answered(came), failed: null, sample } : null;
};

/** The answers of a request that are kept with the app, and whether the phone beside the work is answered with one. */
export function SamplesKept({ request, change }: { request: ServiceRequest; change: ChangeRequest }) {
  const engine = useEngine();
  const came = useTries((s) => s.came);
  const [playing, setPlaying] = useState<string | null>(null);
  const samples = request.samples ?? [];
  useEffect(() => () => void engine.asking.answerWith(request.id, null), [engine, request.id]);
  if (samples.length === 0) return null;
  const play = (id: string | null): void => {
    setPlaying(id);
    void engine.asking.answerWith(request.id, id).then(() => engine.phone.again());
  };
  return (
    <section aria-label="Samples that are kept" className="card mb-6 px-5 py-3">
      <h2 className="mb-1 text-[14px]">Samples that are kept with the app</h2>
      <p className="mb-1.5 text-sm text-ink-soft">
        They stand for the service while it is away. Here you can also have the phone answered with one, to see what it
        shows then.
      </p>
      <ul className="divide-y divide-line">
        {samples.map((s) => (
          <li key={s.id} className="flex min-h-[40px] items-center gap-3">
            <span className="w-10 font-mono text-xs text-ink-faint">{s.status}</span>
            <span className="min-w-0 flex-1 truncate">
              <NameField
                value={s.name}
                label="Name of the sample"
                onChange={(name) =>
                  change(`Renamed the sample ${s.name}`, (r) => {
                    r.samples!.find((x) => x.id === s.id)!.name = name;
                  })
                }
              />
              {s.cut && <span className="ml-2 text-sm text-ink-faint">the beginning of a longer one</span>}
            </span>
            <Button look="quiet" aria-pressed={playing === s.id} onClick={() => play(playing === s.id ? null : s.id)}>
              {playing === s.id ? 'The phone gets it: stop' : 'Give it to the phone'}
            </Button>
            <Button
              look="quiet"
              onClick={() => {
                const shown = shownSample(s);
                if (shown) came(request.id, shown);
              }}
            >
              Look at it
            </Button>
            <IconButton
              icon={X}
              size={14}
              label={`Remove the sample ${s.name}`}
              onClick={() => {
                if (playing === s.id) play(null);
                change(`Removed the sample ${s.name}`, (r) => {
                  r.samples = r.samples!.filter((x) => x.id !== s.id);
                  if (r.samples.length === 0) delete r.samples;
                });
              }}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}
