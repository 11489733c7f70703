import { createParser } from 'eventsource-parser';

/**
 * Hears what a host tells from now on (Server-Sent Events, HTML Living Standard), asked like any other request: so it can
 * say who asks, as EventSource cannot. `over` hears when it has ended by itself. Gives the way to end it.
 */
export function stream(
  ask: (signal: AbortSignal) => Promise<Response>,
  hear: (event: string, data: unknown) => void,
  over: (why: Error | null) => void,
): () => void {
  const stop = new AbortController();
  void (async () => {
    let why: Error | null = null;
    try {
      const answer = await ask(stop.signal);
      if (!answer.ok) throw new Error(`The server answered ${answer.status}.`);
      const parser = createParser({ onEvent: ({ event = 'message', data }) => hear(event, JSON.parse(data)) });
      const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
      for (let part = await reader.read(); !part.done; part = await reader.read()) parser.feed(part.value);
    } catch (e) {
      why = e as Error;
    }
    if (!stop.signal.aborted) over(why);
  })();
  return () => stop.abort();
}
