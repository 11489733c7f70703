import { connect, createServer, type AddressInfo, type Socket } from 'node:net';

/** A way to a server that can be cut, as a network is when somebody walks into a cellar. */
export interface Cable {
  /** The address of the server by this way. */
  url: string;
  /** Ends every connection and takes no more. */
  cut(): void;
  /** Takes what is sent from now on, and answers nothing. */
  swallow(): void;
  mend(): void;
  close(): Promise<void>;
}

export async function cableTo(server: string): Promise<Cable> {
  const { hostname, port } = new URL(server);
  const ends = new Set<Socket>();
  let isCut = false;
  let swallows = false;
  const way = createServer((phone) => {
    if (isCut) return void phone.destroy();
    if (swallows) {
      ends.add(phone);
      phone.on('close', () => ends.delete(phone)).on('error', () => undefined);
      return void phone.resume();
    }
    const host = connect(Number(port), hostname);
    for (const [a, b] of [
      [phone, host],
      [host, phone],
    ] as const) {
      ends.add(a);
      a.pipe(b);
      a.on('error', () => b.destroy());
      a.on('close', () => {
        ends.delete(a);
        b.destroy();
      });
    }
    return undefined;
  });
  await new Promise<void>((done) => way.listen(0, '127.0.0.1', done));
  const cut = (): void => {
    isCut = true;
    for (const end of ends) end.destroy();
  };
  return {
    url: `http://127.0.0.1:${(way.address() as AddressInfo).port}`,
    cut,
    swallow: () => {
      swallows = true;
      for (const end of ends) {
        end.unpipe();
        end.resume();
      }
    },
    mend: () => {
      isCut = false;
      // What was swallowed is answered by nobody any more.
      if (swallows) for (const end of ends) end.destroy();
      swallows = false;
    },
    close: async () => {
      cut();
      await new Promise((done) => way.close(done));
    },
  };
}
