import { Send } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { Answered } from '../../core/services/asking.ts';
import { contentOf } from '../../core/services/parts.ts';
import { fileName, fileType } from '../../core/fields/kept-address.ts';
import { goodSample, keepSample, sampleFrom } from '../../core/services/samples.ts';
import { FILES, type Service, type ServiceRequest } from '../../core/services/schema.ts';
import { useEngine } from '../state/studio.ts';
import { Button, Note, Segmented } from '../ui/controls.tsx';
import { FileThatCame } from './FileThatCame.tsx';
import { AnswerTree } from './AnswerTree.tsx';
import type { ChangeRequest } from './change-request.ts';
import { ReviewRecords, type ListInAnswer } from './ReviewRecords.tsx';
import { sized } from './sized.ts';
import { shownSample } from './SamplesKept.tsx';
import { useTries, type Shown } from './tries.ts';

/** Tries a request as it is now, and shows what was sent and what came back. */
export function TryPanel({
  service,
  request,
  change,
}: {
  service: Service;
  request: ServiceRequest;
  change: ChangeRequest;
}) {
  const engine = useEngine();
  const last = useTries((s) => s.tries[request.id]);
  const good = goodSample(request);
  // What is kept is there before anything was tried.
  const kept = useMemo(() => (good ? shownSample(good) : null), [good]);
  const tried = last ?? kept;
  const going = useTries((s) => Boolean(s.going[request.id]));
  const [where, setWhere] = useState<'test' | 'live'>('test');
  // A list of this answer of which records are to be made.
  const [reviewed, setReviewed] = useState<ListInAnswer | null>(null);
  const go = async (): Promise<void> => {
    const { began, came, files } = useTries.getState();
    setReviewed(null);
    began(request.id);
    const inputs = Object.fromEntries(
      request.inputs.flatMap((i) => {
        const value = FILES.has(i.type) ? files[i.id] : i.test;
        return value === undefined ? [] : [[i.id, value]];
      }),
    );
    try {
      came(request.id, await engine.asking.try(service, request, inputs, where));
    } catch (e) {
      came(request.id, { problem: (e as Error).message });
    }
  };
  return (
    <section aria-label="Try it" className="card mb-6">
      <div className="flex min-h-[52px] items-center gap-3 px-5 py-2.5">
        <Button look={reviewed ? 'plain' : 'main'} icon={Send} disabled={going} onClick={() => void go()}>
          {going ? 'Asking' : 'Try it'}
        </Button>
        {service.live && (
          <Segmented<'test' | 'live'>
            label="Where it is tried"
            value={where}
            options={[
              ['test', 'Test'],
              ['live', 'Live'],
            ]}
            onChange={setWhere}
          />
        )}
        <span role="status" className="min-w-0 flex-1 truncate text-ink-soft">
          {going ? '' : tried && 'answer' in tried && tried.answer ? <Figures answer={tried.answer} /> : ''}
        </span>
      </div>
      {tried && 'problem' in tried && (
        <div className="px-5 pb-4">
          <Note tone="bad">{tried.problem}</Note>
        </div>
      )}
      {tried && 'failed' in tried && tried.failed && (
        <div className="px-5 pb-4">
          <Note tone="bad">{tried.failed}</Note>
          <Sent tried={tried} />
        </div>
      )}
      {tried && 'answer' in tried && tried.answer && (
        <Came
          key={tried.answer.ms}
          tried={tried}
          answer={tried.answer}
          reviewed={reviewed}
          review={setReviewed}
          request={request}
          change={change}
        />
      )}
      {!tried && !going && (
        <p className="px-5 pb-4 text-ink-soft">
          It is asked with the test values above, and you see everything that comes back. What you choose there can be
          used in the app.
        </p>
      )}
    </section>
  );
}

function Figures({ answer }: { answer: Answered }) {
  const good = answer.status < 400;
  return (
    <>
      <b className={good ? 'font-semibold text-kelp' : 'font-semibold text-persimmon-deep'}>Status {answer.status}</b>
      {` · ${Math.round(answer.ms)} ms · ${sized(answer.bytes)}${answer.tries > 1 ? ` · at the ${answer.tries}. try` : ''}`}
    </>
  );
}

function Came({
  tried,
  answer,
  reviewed,
  review,
  request,
  change,
}: {
  tried: Shown;
  answer: Answered;
  reviewed: ListInAnswer | null;
  review(list: ListInAnswer | null): void;
  request: ServiceRequest;
  change: ChangeRequest;
}) {
  const [part, setPart] = useState<'body' | 'headers' | 'sent'>('body');
  const { read } = answer;
  const sample = useMemo(() => sampleFrom(answer), [answer]);
  const isKept = 'sample' in tried;
  if (reviewed)
    return (
      <div className="border-t border-line">
        <ReviewRecords of={reviewed} request={request} sample={sample} close={() => review(null)} />
      </div>
    );
  return (
    <div className="border-t border-line">
      {isKept && (
        <p className="px-5 pt-3 text-sm text-ink-soft">
          This is the sample “{tried.sample.name}” that is kept with the app{tried.sample.cut ? ', cut short' : ''}.
        </p>
      )}
      {answer.said && (
        <div className="px-5 pt-3">
          <Note tone="bad">{answer.said}</Note>
        </div>
      )}
      <div className="flex items-center gap-3 px-5 pt-3 pb-1">
        <Segmented<'body' | 'headers' | 'sent'>
          label="What is shown"
          value={part}
          options={[
            ['body', 'Body'],
            ['headers', `Headers (${answer.headers.length})`],
            ...(isKept ? [] : [['sent', 'What was sent'] as ['sent', string]]),
          ]}
          onChange={setPart}
        />
        {sample && !isKept && (
          <Button
            look="quiet"
            className="ml-auto"
            onClick={() => change(`Kept an answer of ${request.name} as a sample`, (r) => void keepSample(r, sample))}
          >
            Keep it as a sample
          </Button>
        )}
      </div>
      {part === 'sent' && (
        <div className="px-5 pb-4">
          <Sent tried={tried} />
        </div>
      )}
      {part === 'headers' && <Headers headers={answer.headers} />}
      {part === 'body' && read.is === 'json' && (
        <AnswerTree value={read.value} request={request} sample={sample} change={change} review={review} />
      )}
      {part === 'body' && read.is === 'text' && (
        <pre className="thin-scroll max-h-96 overflow-auto px-5 pt-2 pb-4 font-mono text-xs whitespace-pre-wrap">
          {read.text === '' ? 'The answer is empty.' : read.text.slice(0, 100_000)}
        </pre>
      )}
      {part === 'body' && read.is === 'file' && (
        <FileThatCame read={read} tried={tried} request={request} change={change} />
      )}
    </div>
  );
}

function Headers({ headers }: { headers: readonly (readonly [string, string])[] }) {
  return (
    <dl className="px-5 pt-2 pb-4 font-mono text-xs">
      {headers.map(([name, value], i) => (
        <div key={i} className="flex gap-3 py-0.5">
          <dt className="w-48 shrink-0 truncate text-ink-soft">{name}</dt>
          <dd className="min-w-0 flex-1 break-all">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** What was sent, without secrets. */
function Sent({ tried }: { tried: Shown }) {
  if (!tried.filled) return null;
  const { method, url, headers, body, parts } = tried.filled;
  return (
    <div className="pt-2">
      <p className="font-mono text-xs break-all">
        <b className="font-semibold">{method}</b> {url}
      </p>
      <dl className="mt-1 font-mono text-xs">
        {headers.map(([name, value], i) => (
          <div key={i} className="flex gap-3 py-0.5">
            <dt className="w-48 shrink-0 truncate text-ink-soft">{name}</dt>
            <dd className="min-w-0 flex-1 break-all">{value}</dd>
          </div>
        ))}
      </dl>
      {body !== undefined && (
        <pre className="thin-scroll mt-1 max-h-60 overflow-auto font-mono text-xs whitespace-pre-wrap">{body}</pre>
      )}
      {parts?.map((p, i) => (
        <p key={i} className="font-mono text-xs break-all">
          <b className="font-semibold">{p.name}</b>{' '}
          {'text' in p
            ? p.text
            : `${fileName(p.file)}, ${fileType(p.file) ?? 'file'}, ${sized(contentOf(p.file).length)}`}
        </p>
      ))}
      <p className="mt-1.5 text-sm text-ink-soft">The server adds the key of the service, which is shown to nobody.</p>
    </div>
  );
}
