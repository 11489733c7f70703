import { Hexagon, PencilLine, Upload } from 'lucide-react';
import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { addPasted, addRequest, addService } from '../../core/app/services.ts';
import { addDescribed } from '../../core/app/described.ts';
import type { App } from '../../core/app/schema.ts';
import type { Operation } from '../../core/services/openapi/operations.ts';
import { readReply } from '../../core/services/reply.ts';
import { keepSample, sampleFrom } from '../../core/services/samples.ts';
import { fromPaste } from '../../core/services/paste.ts';
import { ask } from '../../player/link.ts';
import { useEdit, useHome, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import type { Described } from './describe-worker.ts';
import { fetchDescription, looksDescribed, mayLeadToOne, readDescription, takeOperations } from './describing.ts';
import { OperationsCard } from './OperationsCard.tsx';
import { useSecrets } from './secrets.ts';

/** A pasted answer of a service: JSON, XML or a calendar; null for anything else. */
function pastedSample(text: string): Parameters<typeof keepSample>[1] | null {
  if (!/^\s*([[{<]|BEGIN:VCALENDAR)/.test(text)) return null;
  const read = readReply(/^\s*[[{]/.test(text) ? 'application/json' : '', new TextEncoder().encode(text));
  return read.is === 'json' ? sampleFrom({ status: 200, headers: [], read }) : null;
}

/** Adds a service from whatever its maker has: an address, a curl line, or nothing. */
export function NewService({ isFirst }: { isFirst: boolean }) {
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const secrets = useSecrets();
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const said = useId();
  const { data: server } = useQuery({
    queryKey: ['server'],
    queryFn: () => ask<{ standIns: string | null }>('/api/server'),
  });

  const [described, setDescribed] = useState<Described | null>(null);
  const [reading, setReading] = useState(false);

  /** A description leads to a choice of what it describes. Gives false where it is none. */
  const describes = async (read: () => Promise<Described | null>): Promise<boolean> => {
    setProblem(null);
    setReading(true);
    try {
      const found = await read();
      setDescribed(found);
      return found !== null;
    } catch (e) {
      setProblem((e as Error).message);
      return true;
    } finally {
      setReading(false);
    }
  };
  const takeChosen = async (chosen: Operation[], tables: boolean): Promise<void> => {
    const taken = await takeOperations(chosen.map((o) => o.key));
    const all = taken.map((t) => ({ ...t, operation: chosen.find((o) => o.key === t.key)! }));
    let made: ReturnType<typeof addDescribed> | null = null;
    await edit(`Added ${described!.name}`, (a) => {
      made = addDescribed(a as App, described!, all, tables);
    });
    const left = [...new Set(taken.flatMap((t) => t.leftOut))];
    const { services, requests, tables: lists } = made!;
    const names = useStudio
      .getState()
      .app!.tables.filter((t) => lists.includes(t.id))
      .map((t) => t.name);
    toast(
      [
        `${requests.length === 1 ? 'The request is' : `${requests.length} requests are`} added.`,
        names.length ? ` ${names.slice(0, 3).join(', ')} ${names.length === 1 ? 'is a table' : 'are tables'} now.` : '',
        left.length
          ? ` Left out: ${left.slice(0, 4).join('; ')}${left.length > 4 ? ` and ${left.length - 4} more` : ''}.`
          : '',
      ].join(''),
    );
    await navigate(`${home}/services/${requests.length === 1 ? requests[0]! : services[0]!}`);
  };
  const openFile = async (): Promise<void> => {
    const [file] = await chooseFiles('.json,.yaml,.yml', false);
    if (file) await describes(async () => readDescription(await file.text(), `“${file.name}”`));
  };

  const take = async (from: string): Promise<void> => {
    if (!from.trim() || reading) return;
    setProblem(null);
    if (looksDescribed(from)) return void (await describes(() => readDescription(from, 'The description')));
    const sample = pastedSample(from);
    if (sample) return fromSample(sample);
    if (mayLeadToOne(from) && (await describes(() => fetchDescription(from)))) return;
    try {
      const pasted = fromPaste(from);
      let made: { service: string; request: string } | null = null;
      await edit(`Added the request ${pasted.request.name}`, (a) => {
        const { service, request } = addPasted(a, pasted);
        made = { service: service.id, request: request.id };
      });
      const { service: id, request } = made!;
      if (pasted.secret !== null) {
        const service = useStudio.getState().app!.services!.find((s) => s.id === id)!;
        await secrets.keep(service, 'test', pasted.secret).then(
          () => toast('The key that was in the line is with the server now. It is not part of the app.'),
          (e: Error) => toast.error(`The key could not be kept: ${e.message}`),
        );
      }
      if (pasted.leftOut.length) toast(`Left out of the line: ${pasted.leftOut.join(', ')}.`);
      await navigate(`${home}/services/${request}`);
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  /** An answer that was pasted is one that a request is still to be described for. */
  const fromSample = (sample: Parameters<typeof keepSample>[1]): void => {
    let id = '';
    void edit('Added a service by a sample of its answers', (a) => {
      const request = addRequest(addService(a));
      keepSample(request, sample);
      ({ id } = request);
    }).then(() => {
      toast('The answer is kept as a sample. Take records out of it now, and say later where the service is.');
      return navigate(`${home}/services/${id}`);
    });
  };
  const byHand = (): void => {
    let id = '';
    void edit('Added a service', (a) => {
      const service = addService(a);
      addRequest(service);
      id = service.id;
    }).then(() => navigate(`${home}/services/${id}`));
  };
  return (
    <div className={isFirst ? 'pt-10' : ''}>
      <h1 className="text-xl">{isFirst ? 'Ask other people’s systems' : 'Add a service'}</h1>
      <p className="mt-1 mb-4 max-w-[600px] text-md text-ink-soft">
        A catalogue, a weather service, the system of your club: describe once how it is asked, try it at once, and use
        what it answers like your own records.
      </p>
      {described ? (
        <OperationsCard
          key={described.name}
          described={described}
          onTake={(chosen, tables) => void takeChosen(chosen, tables)}
          onLeave={() => setDescribed(null)}
        />
      ) : (
        <section className="card px-5 py-4">
          <label className="mb-1.5 block text-sm font-semibold text-ink-soft" htmlFor={`${said}-box`}>
            An address, a curl line from a page of documentation, a sample of an answer, or a description (OpenAPI,
            OData)
          </label>
          <textarea
            id={`${said}-box`}
            aria-invalid={problem !== null}
            aria-describedby={problem ? said : undefined}
            className="field field-sizing-content max-h-60 !min-h-[64px] resize-none font-mono text-sm leading-[19px] break-all"
            spellCheck={false}
            placeholder="https://…"
            value={text}
            onChange={(e) => {
              setText(e.target.value);
              setProblem(null);
            }}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' || e.shiftKey) return;
              e.preventDefault();
              void take(text);
            }}
          />
          {problem && (
            <p role="alert" id={said} className="mt-1.5 text-sm text-persimmon-deep">
              {problem}
            </p>
          )}
          <div className="mt-3 flex items-center gap-2">
            <Button look="main" disabled={!text.trim() || reading} onClick={() => void take(text)}>
              {reading ? 'Reading' : 'Add it'}
            </Button>
            <Button icon={Upload} onClick={() => void openFile()}>
              Choose a description
            </Button>
            <Button icon={PencilLine} onClick={byHand}>
              Describe it by hand
            </Button>
            <span className="flex-1" />
            {server?.standIns && (
              <Button
                look="quiet"
                icon={Hexagon}
                title="A made-up supplier of bee goods on this server, to try things with"
                onClick={() => setText(`${server.standIns}/openapi.json`)}
              >
                Use the stand-in supplier
              </Button>
            )}
          </div>
        </section>
      )}
    </div>
  );
}
