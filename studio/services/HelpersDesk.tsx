import { Hexagon } from 'lucide-react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { helperOf } from '../../core/app/helper-of.ts';
import { addHelperService, WORK_WORDS } from '../../core/app/helpers.ts';
import { WORKS, type App, type Work } from '../../core/app/schema.ts';
import { requestWithService } from '../../core/app/services.ts';
import { ask } from '../../player/link.ts';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

const ITSELF: Readonly<Record<Work, string>> = {
  'sum up': 'the app itself, which counts words',
  judge: 'the app itself, which counts words',
  draft: 'the app itself, by a pattern',
  'pull out': 'the app itself, which looks for signs',
  describe: 'the app itself, which counts colours and shapes',
};

/** Who does the work with words and pictures: the app itself, by counting, or a service that understands more. */
export function HelpersDesk() {
  const app = useApp();
  const home = useHome();
  const edit = useEdit();
  const [address, setAddress] = useState('');
  const { data: server } = useQuery({
    queryKey: ['server'],
    queryFn: () => ask<{ standIns: string | null }>('/api/server'),
  });
  const isAddress = /^https?:\/\/[^\s/]+/i.test(address.trim());
  const use = (): void => {
    if (!isAddress) return;
    void edit(
      'A service does the work with words and pictures',
      (a) => void addHelperService(a as App, address.trim()),
    );
    setAddress('');
  };
  return (
    <>
      <h1 className="mb-1 text-xl">Words and pictures</h1>
      <p className="mb-4 max-w-[600px] text-md text-ink-soft">
        The steps of a routine that sum up, judge, draft, pull out and describe do that by counting, on the device. A
        service that understands language and pictures can do it in their place.
      </p>
      <section aria-label="Who does what" className="card sentence mb-3.5 px-5 py-3.5">
        {WORKS.map((work) => {
          const helper = helperOf(app, work);
          const by = helper && requestWithService(app, helper.request);
          return (
            <p key={work}>
              {WORK_WORDS[work]}{' '}
              {by ? (
                <>
                  <Link to={`${home}/services/${by.request.id}`} className="font-semibold text-kelp hover:underline">
                    {by.request.name} of {by.service.name}
                  </Link>
                  .{' '}
                  <Button
                    small
                    look="quiet"
                    aria-label={`${WORK_WORDS[work]} the app itself again`}
                    onClick={() =>
                      void edit('The app itself does it again', (a) => {
                        delete a.helpers?.[work];
                      })
                    }
                  >
                    In the app again
                  </Button>
                </>
              ) : (
                <>
                  <b className="font-semibold text-ink">{ITSELF[work]}</b>.
                </>
              )}
            </p>
          );
        })}
      </section>
      <section className="card px-5 py-4">
        <form
          className="space-y-3"
          onSubmit={(e) => {
            e.preventDefault();
            use();
          }}
        >
          <label className="block">
            <span className="mb-0.5 block text-sm text-ink-soft">
              Address of a service that is asked as our documentation says (POST to /sum-up, /judge, /draft, /pull-out,
              /describe)
            </span>
            <input
              className="field font-mono text-sm"
              placeholder="https://"
              value={address}
              onChange={(e) => setAddress(e.target.value)}
            />
          </label>
          <div className="flex items-center gap-2">
            <Button type="submit" look="main" disabled={!isAddress}>
              Use this service
            </Button>
            <span className="flex-1" />
            {server?.standIns && (
              <Button
                look="quiet"
                icon={Hexagon}
                title="On this server: it counts like the app itself, and says that it is a stand-in"
                onClick={() => setAddress(`${server.standIns}/words`)}
              >
                Use the stand-in
              </Button>
            )}
          </div>
        </form>
      </section>
    </>
  );
}
