// @vitest-environment jsdom
import './fixture.ts';
import { act, render, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { keptAddress } from '../core/fields/kept-file.ts';
import { HostsContext } from './context.ts';
import { useKept } from './kept.ts';

const FILE = keptAddress({ hash: 'A'.repeat(43), type: 'image/png', size: 3, name: 'hive.png' });

/** What a part of a page has of an address, while a test goes on. */
function shown(address: string, file: () => Promise<Blob | null>, hosts: string[] | null = null) {
  const seen: ReturnType<typeof useKept>[] = [];
  const api = { file: vi.fn(file) };
  function Part() {
    seen.push(useKept(api, address));
    return null;
  }
  const view = render(
    <HostsContext value={hosts}>
      <Part />
    </HostsContext>,
  );
  return { now: () => seen.at(-1)!, api, ...view };
}

it('an address that is no kept file is shown as it is, and nothing is asked for it', () => {
  const { now, api } = shown('https://pictures.example/a.png', async () => null);
  expect([now(), api.file.mock.calls]).toEqual([{ url: 'https://pictures.example/a.png', lost: false }, []]);
  expect(shown('', async () => null).now()).toEqual({ url: null, lost: false });
});

it('an address of a host that the app may not ask is not shown, with why', () => {
  const address = 'https://pictures.example/a.png';
  expect(shown(address, async () => null, ['other.example']).now()).toEqual({
    url: null,
    lost: true,
    why: 'This app takes nothing from pictures.example.',
  });
  expect(shown(address, async () => null, ['pictures.example']).now().url).toBe(address);
});

it('a kept file is on its way, then shown; one that cannot be had is lost until there is a network again', async () => {
  let content: Blob | null = null;
  const { now, api } = shown(FILE, async () => content);
  expect(now()).toEqual({ url: null, lost: false });
  await waitFor(() => expect(now()).toEqual({ url: null, lost: true }));
  content = new Blob(['abc']);
  await act(async () => {
    dispatchEvent(new Event('online'));
  });
  await waitFor(() => expect(now()).toMatchObject({ url: expect.stringMatching(/^blob:/) as string, lost: false }));
  expect(api.file).toHaveBeenCalledTimes(2);
});
