import { PanelRightOpen, UserPlus } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { peopleTable } from '../../core/app/people.ts';
import { useApp, useEngine } from '../state/studio.ts';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { AddPhone } from './AddPhone.tsx';
import { arranged } from './arranged.ts';
import { ClockBar } from './ClockBar.tsx';
import { Beside } from './Beside.tsx';
import { NEW_LOOKS, useRoom } from './room.ts';
import { RoomPhone } from './RoomPhone.tsx';

/** The room: phones of several people side by side, with one clock, on a copy of the records. */
export function Room() {
  const app = useApp();
  const engine = useEngine();
  const rehearsed = useRoom((s) => s.app);
  const state = useRoom((s) => s.state);
  const looks = useRoom((s) => s.looks);
  const problem = useRoom((s) => s.problem);
  const begin = useRoom((s) => s.begin);
  const room = useRef<HTMLDivElement>(null);
  const [folded, setFolded] = useState(false);
  const [size, setSize] = useState({ width: 800, height: 600 });

  // Whoever comes here the first time finds somebody of the people, and the next.
  useEffect(() => {
    if (useRoom.getState().app) return;
    const table = peopleTable(app)?.id;
    void (table ? engine.phone.choices(table, '') : Promise.resolve([])).then((people) =>
      begin(people.length ? people.slice(0, 2).map((p) => ({ is: 'person', record: p.id })) : [{ is: 'nobody' }]),
    );
  }, []);

  // The clock stands while nobody looks.
  useEffect(() => () => void useRoom.getState().engine?.room.setPace('stands'), []);

  useEffect(() => {
    if (!room.current) return;
    const watch = new ResizeObserver(
      ([e]) => e && setSize({ width: e.contentRect.width, height: e.contentRect.height }),
    );
    watch.observe(room.current);
    return () => watch.disconnect();
  }, []);

  const phones = state?.phones ?? [];
  const sizes = useMemo(() => phones.map((p) => (looks[p.id] ?? NEW_LOOKS).size), [phones, looks]);
  const { columns, scale } = arranged(sizes, size);
  return (
    <main className="flex min-h-0 min-w-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col bg-sunk">
        <h1 className="sr-only">Rehearse</h1>
        <ClockBar />
        {rehearsed && rehearsed !== app && (
          <div className="px-4 pt-2">
            <Note action={<Button onClick={() => void begin()}>Begin anew</Button>}>
              The app has changed since this rehearsal began. The phones show it as it was then.
            </Note>
          </div>
        )}
        {problem && (
          <div className="px-4 pt-2">
            <Note tone="bad">{problem}</Note>
          </div>
        )}
        <div ref={room} role="group" aria-label="Phones" className="relative min-h-0 flex-1 overflow-auto thin-scroll">
          {state && phones.length === 0 && (
            <Empty
              title="Nobody is here"
              words="Add the phone of somebody of the people, or of whoever has not signed in."
            >
              <AddPhone
                trigger={
                  <Button look="main" icon={UserPlus}>
                    Add a phone
                  </Button>
                }
              />
            </Empty>
          )}
          <div
            className="absolute inset-x-0 top-0 grid min-h-full content-center justify-center gap-x-[18px] gap-y-[18px] p-[9px]"
            style={{ gridTemplateColumns: `repeat(${columns}, max-content)` }}
          >
            {rehearsed && phones.map((p) => <RoomPhone key={p.id} phone={p} app={rehearsed} scale={scale} />)}
          </div>
          {!state && !problem && (
            <p className="pt-[30vh] text-center text-ink-soft" role="status">
              Setting up the phones
            </p>
          )}
        </div>
        <p className="border-t border-line bg-raised px-4 py-2 text-sm text-ink-soft">
          On a copy of the records: nothing that happens here touches the app, its records or anybody outside.
        </p>
      </div>
      {folded ? (
        <button
          type="button"
          onClick={() => setFolded(false)}
          aria-label="Show what happens"
          className="flex w-8 shrink-0 items-start justify-center border-l border-line bg-sunk pt-4 text-ink-soft hover:text-ink"
        >
          <PanelRightOpen size={16} aria-hidden />
        </button>
      ) : (
        <Beside fold={() => setFolded(true)} />
      )}
    </main>
  );
}
