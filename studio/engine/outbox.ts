import { compose } from '../../core/formats/eml.ts';
import { fileName, fileType } from '../../core/fields/kept-address.ts';
import { newRecordId } from '../../core/host/device.ts';
import type { Outgoing } from '../../core/session/effects.ts';
import type { DeviceDb } from '../../player/storage.ts';

/** What lies in the outbox of this browser. */
export interface OutboxItem {
  id: string;
  kind: 'mail' | 'text message' | 'notice' | 'file';
  to: string[];
  subject: string;
  body: string;
  /** ISO 8601. */
  at: string;
  /** The message of a mail (RFC 5322). */
  eml?: string;
  /** The names of the files that go with it. */
  files?: string[];
  /** The address of a file that was made. */
  address?: string;
}

/** So many of the newest are shown. */
const SHOWN = 100;

/** The outbox of this browser: a stand-in that makes real messages and files, and sends none. */
export class StudioOutbox {
  constructor(
    private readonly db: DeviceDb,
    private readonly appName: () => string,
  ) {}

  async send(m: Outgoing): Promise<void> {
    const at = new Date();
    const from = { name: this.appName(), address: 'app@mellow-kite.example' };
    const eml = m.kind ? undefined : compose({ ...m, from, date: at });
    await this.db.outbox.put({ ...m, at: at.toISOString(), sent: 1, ...(eml !== undefined && { eml }) });
  }

  /** A routine has made a file, which is kept under this address. */
  async made(address: string): Promise<void> {
    const at = new Date().toISOString();
    await this.db.outbox.put({ id: newRecordId(), to: [], subject: fileName(address), body: '', at, sent: 1, address });
  }

  async items(): Promise<OutboxItem[]> {
    const kept = await this.db.outbox.orderBy('at').reverse().limit(SHOWN).toArray();
    return kept.map(({ sent: _sent, files, kind, address, ...m }) => ({
      ...m,
      kind: address ? ('file' as const) : (kind ?? ('mail' as const)),
      ...(files && { files: files.map((f) => f.name) }),
      ...(address && { address, body: fileType(address) ?? '' }),
    }));
  }
}
