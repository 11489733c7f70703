import { canGoStraight } from '../../core/services/goes-straight.ts';
import type { Service, ServiceRequest } from '../../core/services/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { ChangeRequest } from './change-request.ts';
import { useTries } from './tries.ts';

/** Who asks a request for the people who use the app: the server, or each phone itself where it needs no key. */
export function StraightSentence({
  service,
  request,
  change,
}: {
  service: Service;
  request: ServiceRequest;
  change: ChangeRequest;
}) {
  const tried = useTries((s) => s.tries[request.id]);
  if (!canGoStraight(service, request)) return null;
  const answer = tried && 'answer' in tried ? tried.answer : null;
  const lets = answer?.headers.some(([name]) => name.toLowerCase() === 'access-control-allow-origin');
  return (
    <p className="sentence mt-2">
      For people it is asked{' '}
      <ChoiceChip
        name="Who asks it"
        value={request.straight ? 'phone' : 'server'}
        choices={[
          { value: 'server', label: 'by the server' },
          { value: 'phone', label: 'by each phone itself', hint: 'what it sends is known to everybody' },
        ]}
        onChange={(by) =>
          change(`${request.name} is asked by the ${by}`, (r) => {
            if (by === 'phone') r.straight = true;
            else delete r.straight;
          })
        }
      />
      .
      {request.straight && answer && !lets && (
        <span className="text-ink-soft">
          {' '}
          The service did not say that pages may ask it (CORS), so the server asks it after all.
        </span>
      )}
    </p>
  );
}
