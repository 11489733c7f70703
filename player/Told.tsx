import { useEffect, useState } from 'react';
import type { PhoneApi } from '../core/phone/api.ts';
import { askNoMore, beNotTold, beTold, canBeTold, isTold, wantedFor } from './closed.ts';
import './over.css';

/** Whether a person is told on this device what is for them while the app is closed, with a switch. */
export function Told({ api, person }: { api: PhoneApi; person: string }) {
  const [on, setOn] = useState<boolean | null>(null);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    let current = true;
    void isTold(person).then((told) => current && setOn(told));
    return () => {
      current = false;
    };
  }, [person]);
  if (on === null || (!canBeTold() && !on)) return null;
  const turn = (): void => {
    setProblem('');
    (on ? beNotTold() : beTold(api, person)).then(
      () => setOn(!on),
      (e: Error) => setProblem(e.message),
    );
  };
  return (
    <section aria-label="Notices">
      <h3>Notices</h3>
      <p>{on ? 'You are told on this device, also when the app is closed.' : 'You are told while the app is open.'}</p>
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
      <p>
        <button type="button" className="k-link" onClick={turn}>
          {on ? 'Tell me only when it is open' : 'Tell me also when it is closed'}
        </button>
      </p>
    </section>
  );
}

/** With a notice: whether they want to be told also while the app is closed, until they have said so once. */
export function OfferTold({ api }: { api: PhoneApi }) {
  const [person, setPerson] = useState<string | null>(null);
  const [said, setSaid] = useState('');
  const [isOver, setIsOver] = useState(() => !canBeTold() || wantedFor() !== null);
  useEffect(() => {
    let current = true;
    void api.person().then((p) => current && setPerson(p));
    return () => {
      current = false;
    };
  }, [api]);
  if (said)
    return (
      <p className="k-notice-offer" role="alert">
        {said}
      </p>
    );
  if (isOver || !person) return null;
  const yes = (): void =>
    void beTold(api, person).then(
      () => setSaid('You are told also when it is closed.'),
      (e: Error) => setSaid(e.message),
    );
  const no = (): void => {
    askNoMore();
    setIsOver(true);
  };
  return (
    <p className="k-notice-offer">
      <button type="button" className="k-link" onClick={yes}>
        Tell me also when it is closed
      </button>
      <button type="button" className="k-link" onClick={no}>
        Not now
      </button>
    </p>
  );
}
