import { useEffect, useId, useState } from 'react';
import type { PhoneApi } from '../core/phone/api.ts';
import { Sheet } from './Over.tsx';
import { SignedLine } from './SignedLine.tsx';
import { Told } from './Told.tsx';
import './over.css';

/** What a screen that looks otherwise for each person says of that: whose it is now, and the way to say who one is. */
export default function WhoLine({
  api,
  people,
  signsIn,
  drawn,
}: {
  api: PhoneApi;
  people: string | null;
  /** People sign in to the app: nobody is whom they say. */
  signsIn: boolean;
  /** Another object whenever the screen is drawn anew: a form may have told who it is. */
  drawn: object;
}) {
  const [person, setPerson] = useState<string | null | undefined>();
  const [asks, setAsks] = useState(false);
  useEffect(() => {
    let current = true;
    void api.person().then((p) => current && setPerson(p));
    return () => {
      current = false;
    };
  }, [api, drawn]);
  const be = (name: string | null, record?: string): void => {
    setAsks(false);
    setPerson(name);
    void api.beUsedBy(name, record !== undefined && people ? { table: people, record } : null);
  };
  if (signsIn) return <SignedLine api={api} person={person} />;
  return (
    <>
      <p className="k-who">
        {person && <span title={person}>Shown for {person}</span>}
        {person !== undefined && (
          <button type="button" onClick={() => setAsks(true)}>
            {person === null ? 'Say who you are, to see what is yours' : 'Not you?'}
          </button>
        )}
      </p>
      {asks && (
        <Sheet height="half" label="Who are you?" onClose={() => setAsks(false)}>
          <WhoList api={api} people={people} person={person ?? null} be={be} />
        </Sheet>
      )}
    </>
  );
}

/** The people of the app to choose oneself from; or a name to type, where the app has no table of people. */
function WhoList({
  api,
  people,
  person,
  be,
}: {
  api: PhoneApi;
  people: string | null;
  /** Who has said that they use the app here. */
  person: string | null;
  be(name: string | null, record?: string): void;
}) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const [found, setFound] = useState<{ id: string; title: string }[]>([]);
  useEffect(() => {
    let current = true;
    if (people) void api.choices(people, typed).then((list) => current && setFound(list));
    return () => {
      current = false;
    };
  }, [api, people, typed]);
  return (
    <div className="k-who-list">
      <h2>Who are you?</h2>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (!people && typed.trim()) be(typed.trim());
          else if (found.length === 1) be(found[0]!.title, found[0]!.id);
        }}
      >
        <div className="k-field">
          <label htmlFor={id}>{people ? 'Search by name' : 'Your name'}</label>
          <input id={id} value={typed} onChange={(e) => setTyped(e.target.value)} />
        </div>
        {!people && (
          <button type="submit" className="k-button" data-look="main" disabled={!typed.trim()}>
            That is me
          </button>
        )}
      </form>
      {people && found.length === 0 && <p className="k-soft">Nobody is found by this name.</p>}
      <div className="k-who-names">
        {found.map((p) => (
          <button type="button" key={p.id} onClick={() => be(p.title, p.id)}>
            {p.title}
          </button>
        ))}
        {person && (
          <button type="button" onClick={() => be(null)}>
            I am none of these
          </button>
        )}
      </div>
      {person && <Told api={api} person={person} />}
    </div>
  );
}
