import type { Vault } from '../core/phone/signed-in.ts';
import type { PhoneStore } from '../core/phone/keeps.ts';

const KEY = 'vault key';
const CONTENT = 'vault';

/**
 * Keeps what must not be read by others on a device, as well as a browser can: encrypted (AES-GCM) with a key that scripts
 * can use and never read. Pages without a safe context have no cryptography; there nothing is kept.
 */
export function vaultIn(store: Pick<PhoneStore, 'get' | 'put'>): Vault {
  const { subtle } = globalThis.crypto;
  if (!subtle) return { get: async () => null, put: async () => undefined };
  return {
    async get() {
      const [key, kept] = await Promise.all([
        store.get<CryptoKey>(KEY),
        store.get<{ iv: Uint8Array<ArrayBuffer>; data: ArrayBuffer }>(CONTENT),
      ]);
      if (!key || !kept) return null;
      const plain = await subtle.decrypt({ name: 'AES-GCM', iv: kept.iv }, key, kept.data);
      return JSON.parse(new TextDecoder().decode(plain)) as unknown;
    },
    async put(value) {
      if (value === null) {
        // The key goes too: what was kept under it is nothing any more, wherever a copy of it lies.
        await store.put(CONTENT, undefined);
        await store.put(KEY, undefined);
        return;
      }
      let key = await store.get<CryptoKey>(KEY);
      if (!key) {
        key = await subtle.generateKey({ name: 'AES-GCM', length: 256 }, false, ['encrypt', 'decrypt']);
        await store.put(KEY, key);
      }
      const iv = crypto.getRandomValues(new Uint8Array(12));
      const data = await subtle.encrypt({ name: 'AES-GCM', iv }, key, new TextEncoder().encode(JSON.stringify(value)));
      await store.put(CONTENT, { iv, data });
    },
  };
}
