/** Asks the host of an app something for whoever uses it on this page. Rejects in words that can be shown. */
export async function asks<T>(app: string, path: string, json?: object, method = json ? 'POST' : 'GET'): Promise<T> {
  const answer = await fetch(`/api/apps/${app}${path}`, {
    method,
    headers: { accept: 'application/json', ...(json && { 'content-type': 'application/json' }) },
    ...(json && { body: JSON.stringify(json) }),
  }).catch(() => {
    throw new Error('The network is away. Connect, then try again.');
  });
  const body = ((await answer.json().catch(() => null)) ?? {}) as T & { error?: string };
  if (!answer.ok) throw new Error(body.error ?? 'That did not work. Try again.');
  return body;
}
