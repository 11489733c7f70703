import { Globe } from 'lucide-react';
import { useEffect, useId, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../ui/controls.tsx';
import { fetchData } from './fetch-data.ts';

/** A box for the address of data, or for a curl line that asks for it. What is fetched comes as a file. */
export function FromAddress({ onFile, takesFocus = false }: { onFile(file: File): void; takesFocus?: boolean }) {
  const [from, setFrom] = useState('');
  const [fetching, setFetching] = useState<AbortController | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const going = useRef<AbortController | null>(null);
  const said = useId();
  const box = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (takesFocus) box.current?.focus();
    return () => going.current?.abort();
  }, [takesFocus]);

  const go = async (): Promise<void> => {
    if (!from.trim() || fetching) return;
    const stop = new AbortController();
    going.current = stop;
    setFetching(stop);
    setProblem(null);
    try {
      const { file, leftOut } = await fetchData(from, stop.signal);
      onFile(file);
      if (leftOut) toast(`Left out of the line: ${leftOut}.`);
      setFrom('');
    } catch (e) {
      if (!stop.signal.aborted) setProblem((e as Error).message);
    } finally {
      setFetching(null);
    }
  };
  return (
    <div className="w-full">
      <div className="flex items-start gap-2">
        <textarea
          ref={box}
          aria-label="Address of data, or a curl line"
          aria-invalid={problem !== null}
          aria-describedby={problem ? said : undefined}
          className="field field-sizing-content max-h-40 !min-h-[30px] flex-1 resize-none !py-[5px] leading-[18px] break-all"
          rows={1}
          spellCheck={false}
          placeholder="https://… or a curl line"
          value={from}
          onChange={(e) => {
            setFrom(e.target.value);
            setProblem(null);
          }}
          onKeyDown={(e) => {
            if (e.key !== 'Enter' || e.shiftKey) return;
            e.preventDefault();
            void go();
          }}
        />
        {fetching ? (
          <Button onClick={() => fetching.abort()}>Stop</Button>
        ) : (
          <Button icon={Globe} disabled={!from.trim()} onClick={() => void go()}>
            Fetch
          </Button>
        )}
      </div>
      {fetching && (
        <p role="status" className="mt-1.5 text-sm text-ink-soft">
          Fetching
        </p>
      )}
      {problem && (
        <p role="alert" id={said} className="mt-1.5 text-sm text-persimmon-deep">
          {problem}
        </p>
      )}
    </div>
  );
}
