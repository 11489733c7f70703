import { useCallback, useEffect, useState } from 'react';

export interface Message {
  words: string;
  tone: 'plain' | 'bad';
  press?: { id: string; button: string };
}
type Shown = Message & { key: number };

/** More are not shown at once: the oldest goes. */
const MOST = 3;
let count = 0;

/** The messages that are shown now, the newest last; one does not take the place of another that is still being read. */
export function useMessages(): [Shown[], (message: Message) => void, (shown: Shown) => void] {
  const [all, setAll] = useState<Shown[]>([]);
  const put = useCallback((m: Message) => {
    // The same words once more are not shown twice, but a button always means its own act.
    const same = (s: Shown): boolean => !m.press && !s.press && s.words === m.words;
    setAll((now) => [...now.filter((s) => !same(s)), { ...m, key: count++ }].slice(-MOST));
  }, []);
  const drop = useCallback((shown: Shown) => setAll((now) => now.filter((s) => s !== shown)), []);
  return [all, put, drop];
}

/** One message, for as long as it takes to read it. */
export function MessageLine({ m, drop, press }: { m: Shown; drop(m: Shown): void; press(id: string): void }) {
  useEffect(() => {
    const t = setTimeout(() => drop(m), m.press || m.tone === 'bad' ? 7000 : 4000);
    return () => clearTimeout(t);
  }, [m, drop]);
  return (
    // Pressed, it goes: what it lies over is within reach at once.
    <div className="k-message" data-tone={m.tone} role="status" onClick={() => drop(m)}>
      {m.words}
      {m.press && (
        <button
          type="button"
          onClick={() => {
            press(m.press!.id);
            drop(m);
          }}
        >
          {m.press.button}
        </button>
      )}
    </div>
  );
}
