import { readFile } from 'node:fs/promises';
import { proxy, transfer, type ProxyMarked } from 'comlink';
import { readApp } from '../core/app/document.ts';
import { phoneHalf } from '../core/app/halves.ts';
import type { App } from '../core/app/schema.ts';
import { AppRunner } from './app-runner.ts';
import { factsOf } from './facts.ts';
import { ReleaseMessage } from './messages.ts';
import { inBytes, parsed } from './thread-messages.ts';

/** What a thread does: it runs apps, one after the other, and looks through what is to be released. */
export const threadApi = {
  newApp: (): AppRunner & ProxyMarked => proxy(new AppRunner()),

  /**
   * What is to be released, a {@link ReleaseMessage} in JSON, checked: its document as JSON, and in JSON what the server
   * knows of it. Throws in words when it is not right.
   */
  readRelease(body: Uint8Array): ReadRelease {
    const message = ReleaseMessage.parse(parsed(body));
    return read(readApp(message.app, 'The app'), { icons: message.icons });
  },

  /** The same of a release as it was kept before, in one file with its document, or of an earlier form of documents. */
  async readKept(path: string, name: string): Promise<ReadRelease> {
    const file = JSON.parse(await readFile(path, 'utf8')) as Record<string, unknown>;
    const { app, ...rest } = 'app' in file ? file : { app: file };
    return read(readApp(app, `The release at ${name}`), rest);
  },
};

/** Both halves of a release as JSON, and in JSON its facts beside other things that are known of it. */
export interface ReadRelease {
  /** The whole document, which stays with the host. */
  host: Uint8Array;
  /** What of it leaves. */
  phone: Uint8Array;
  about: Uint8Array;
}

function read(app: App, more: object): ReadRelease {
  const bytes = {
    host: inBytes(app),
    phone: inBytes(phoneHalf(app)),
    about: inBytes({ ...more, facts: factsOf(app) }),
  };
  return transfer(bytes, [bytes.host.buffer, bytes.phone.buffer, bytes.about.buffer]);
}
