import { ArrowDownToLine, Cloud, LogIn, PencilLine, Plus, TextQuote, Trash2, type LucideIcon } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import { requestWithService } from '../../core/app/services.ts';
import type { Method } from '../../core/services/schema.ts';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { useApp, useHome } from '../state/studio.ts';
import { HelpersDesk } from './HelpersDesk.tsx';
import { NewService } from './NewService.tsx';
import { RequestDesk } from './RequestDesk.tsx';
import { SignInDesk } from './SignInDesk.tsx';
import { ServiceDesk } from './ServiceDesk.tsx';

/** What requests do, as the index shows it. */
const ICONS: Record<Method, LucideIcon> = {
  GET: ArrowDownToLine,
  POST: Plus,
  PUT: PencilLine,
  PATCH: PencilLine,
  DELETE: Trash2,
};

/** The Services workspace: other people’s systems, what they can be asked, and trying it. */
export function ServicesView() {
  const app = useApp();
  const home = useHome();
  const navigate = useNavigate();
  const { thing } = useParams();
  const base = `${home}/services`;
  const services = app.services ?? [];
  const request = thing === undefined ? undefined : requestWithService(app, thing);
  const service = services.find((s) => s.id === thing) ?? (thing === undefined ? services[0] : undefined);
  return (
    <>
      <Index label="Services">
        <IndexGroup title="Services" onAdd={() => void navigate(`${base}/new`)} addLabel="Add a service">
          {services.map((s) => (
            <li key={s.id}>
              <ul>
                <IndexItem
                  to={`${base}/${s.id}`}
                  icon={Cloud}
                  name={s.name}
                  selected={s.id === service?.id && !request}
                />
                {s.requests.map((r) => (
                  <IndexItem
                    key={r.id}
                    to={`${base}/${r.id}`}
                    icon={ICONS[r.method]}
                    name={r.name}
                    depth={1}
                    selected={r.id === request?.request.id}
                  />
                ))}
              </ul>
            </li>
          ))}
          {services.length === 0 && <li className="px-2 py-1 text-sm text-ink-faint">None yet</li>}
        </IndexGroup>
        <IndexGroup title="Who asks">
          <IndexItem to={`${base}/sign-in`} icon={LogIn} name="Signing in" selected={thing === 'sign-in'} />
        </IndexGroup>
        <IndexGroup title="Who does what">
          <IndexItem to={`${base}/words`} icon={TextQuote} name="Words and pictures" selected={thing === 'words'} />
        </IndexGroup>
      </Index>
      <main className="thin-scroll min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[820px]">
          {thing === 'sign-in' ? (
            <SignInDesk />
          ) : thing === 'words' ? (
            <HelpersDesk />
          ) : request ? (
            <RequestDesk key={request.request.id} {...request} />
          ) : service && thing !== 'new' ? (
            <ServiceDesk key={service.id} service={service} />
          ) : (
            <NewService isFirst={services.length === 0} />
          )}
        </div>
      </main>
    </>
  );
}
