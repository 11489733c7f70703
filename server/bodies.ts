import type { IncomingMessage, ServerResponse } from 'node:http';
import type { RequestHandler } from 'express';
import { Refused } from '../core/document/refused.ts';

/** What requests may hold in memory together, until they are answered. */
export interface BodyBounds {
  /** Bytes of all requests. */
  all: number;
  /** Bytes of the requests of one address. */
  address: number;
  /** A request of which nothing has come for so many milliseconds is ended. */
  idleMs: number;
}

/** So long a request that is refused may go on to send, in milliseconds. */
const LINGER_MS = 2000;

const BOUNDS: BodyBounds = { all: 256 * 2 ** 20, address: 96 * 2 ** 20, idleMs: 20_000 };

/**
 * Reads what requests bring, within bounds on all of them together, of each address and in time. The bytes of a request
 * count until it is answered, since that is how long they are held.
 */
export class Bodies {
  private held = 0;
  private readonly heldBy = new Map<string, number>();

  constructor(private readonly bounds: BodyBounds = BOUNDS) {}

  /** The body of a request, of `limit` bytes at most. Rejects with what to answer. */
  read(req: IncomingMessage, res: ServerResponse, from: string, limit: number): Promise<Buffer> {
    return new Promise((resolve, reject) => {
      const parts: Buffer[] = [];
      let size = 0;
      let counted = 0;
      const refuse = (status: number, words: string, isOver = false): void => {
        if (size === Infinity) return;
        clearTimeout(idle);
        parts.length = 0;
        this.count(from, -counted);
        counted = 0;
        size = Infinity;
        // The rest of a request that is not read to its end would be taken for the next one.
        if (!res.headersSent) res.setHeader('connection', 'close');
        const refused = (): void => reject(new Refused(status, words));
        if (isOver) return refused();
        // Somebody who is still sending would lose the answer with the connection: what comes is read and let go.
        const rest = setTimeout(refused, LINGER_MS);
        for (const end of ['end', 'close'])
          req.once(end, () => {
            clearTimeout(rest);
            refused();
          });
      };
      const idle = setTimeout(() => refuse(408, 'The request stopped half-way.', true), this.bounds.idleMs);
      req.on('data', (part: Buffer) => {
        if (size === Infinity) return;
        size += part.length;
        if (size > limit) return refuse(413, 'This is more than the server takes at once.');
        if (!this.hasPlace(from, part.length))
          return refuse(503, 'The server is taking a great deal at once. Try again in a moment.');
        this.count(from, part.length);
        counted += part.length;
        idle.refresh();
        parts.push(part);
      });
      req.once('error', () => refuse(400, 'The request was cut off.', true));
      req.once('end', () => {
        if (size === Infinity) return;
        clearTimeout(idle);
        resolve(parts.length === 1 ? parts[0]! : Buffer.concat(parts));
      });
      res.once('close', () => {
        this.count(from, -counted);
        counted = 0;
      });
    });
  }

  /** Reads a body of one media type for the handlers behind; anything else is refused in the words given. */
  taking(type: string, limit: number, otherwise: string): RequestHandler {
    return (req, res, next) => {
      const isOdd = /charset="?(?!utf-?8)[\w-]/i.test(req.get('content-type') ?? '');
      const isPacked = !['identity', undefined].includes(req.get('content-encoding'));
      if (!req.is(type) || isOdd || isPacked) return next(new Refused(415, otherwise));
      this.read(req, res, req.ip ?? '', limit).then((body) => {
        req.body = body;
        next();
      }, next);
    };
  }

  /** How many bytes are held now. */
  get bytes(): number {
    return this.held;
  }

  private hasPlace(from: string, bytes: number): boolean {
    return this.held + bytes <= this.bounds.all && (this.heldBy.get(from) ?? 0) + bytes <= this.bounds.address;
  }

  private count(from: string, bytes: number): void {
    this.held += bytes;
    const now = (this.heldBy.get(from) ?? 0) + bytes;
    if (now > 0) this.heldBy.set(from, now);
    else this.heldBy.delete(from);
  }
}
