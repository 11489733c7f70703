/** What the host fetched, and what of a curl line it did not ask for, in words. */
interface Fetched {
  file: File;
  leftOut: string;
}

/** Has the host fetch data from an address or by a curl line, as a file. Rejects in words. */
export async function fetchData(from: string, signal: AbortSignal): Promise<Fetched> {
  let answer: Response;
  try {
    answer = await fetch('/api/fetched', {
      method: 'POST',
      headers: { 'content-type': 'application/json', accept: 'application/json' },
      body: JSON.stringify({ from }),
      signal,
    });
  } catch (e) {
    if (signal.aborted) throw e;
    throw new Error('The server of Mellow Kite cannot be reached. Look at your network, then try again.', { cause: e });
  }
  if (!answer.ok) {
    const { error } = (await answer.json().catch(() => ({}))) as { error?: string };
    throw new Error(error ?? `The server answered ${answer.status}.`);
  }
  const told = (header: string): string => decodeURIComponent(answer.headers.get(header) ?? '');
  return { file: new File([await answer.blob()], told('x-file-name')), leftOut: told('x-left-out') };
}
