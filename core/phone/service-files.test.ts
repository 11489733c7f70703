import { describe, expect, it } from 'vitest';
import { emptyApp } from '../app/document.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import { EMPTY, type ServiceAnswer } from '../services/answer.ts';
import { contentAddress, contentOf } from '../services/parts.ts';
import { goodsRequest, supplier } from '../services/fixture.ts';
import { Files } from './files.ts';
import { keepFiles, withFiles } from './service-files.ts';

const kept = new Map<string, Blob>();
const store = {
  file: async (hash: string) => kept.get(hash) ?? null,
  keepFile: async (hash: string, content: Blob) => void kept.set(hash, content),
  forgetFiles: async () => undefined,
};
const files = new Files(store, async () => null);
const app = {
  ...emptyApp('Claims'),
  services: [
    supplier({
      requests: [
        goodsRequest({
          inputs: [
            { id: 'v_photo00000', name: 'Photo', type: 'picture' },
            { id: 'v_words00000', name: 'Words', type: 'text' },
          ],
        }),
      ],
    }),
  ],
};
const message = (photo: string, words = '') => ({
  request: 'n_goods00000',
  inputs: { v_photo00000: photo, v_words00000: words },
});

describe('files of services on a phone', () => {
  it('go along with their content where an input is a file, and nothing else does', async () => {
    const content = new Uint8Array([1, 2, 3, 250]);
    const address = await files.keep(new Blob([content], { type: 'image/png' }), 'hive ä.png');
    const sent = await withFiles(app, message(address, address), files);
    expect(Object.keys(sent.files!)).toEqual(['v_photo00000']);
    expect(contentOf(sent.files!['v_photo00000']!)).toEqual(content);
    expect(sent.files!['v_photo00000']).toContain(';name=hive%20%C3%A4.png;');
    const plain = message('https://a.example/x.png');
    expect(await withFiles(app, plain, files)).toBe(plain);
  });

  it('are said where they are not here, or too large to be sent', async () => {
    const gone = `ni:///sha-256;${'a'.repeat(43)}?ct=image%2Fpng&size=3&name=gone.png`;
    await expect(withFiles(app, message(gone), files)).rejects.toThrow('“gone.png” is not on this phone yet.');
    const large = gone.replace('size=3', 'size=8000001');
    await expect(withFiles(app, message(large), files)).rejects.toThrow('Files of up to 8 MB can be sent');
  });

  it('that come are kept, and have the addresses by which records hold them', async () => {
    const content = new Uint8Array([9, 8, 7]);
    const answer: ServiceAnswer = {
      ...EMPTY,
      picks: { k_file000000: contentAddress(content, 'application/pdf', 'plan.pdf'), k_name000000: 'a name' },
    };
    await keepFiles(answer, files);
    const file = readKeptAddress(answer.picks['k_file000000']);
    expect(file).toMatchObject({ type: 'application/pdf', size: 3, name: 'plan.pdf' });
    const back = await files.bytes(file!.hash);
    expect(new Uint8Array(await back!.arrayBuffer())).toEqual(content);
    expect(answer.picks['k_name000000']).toBe('a name');
  });
});
