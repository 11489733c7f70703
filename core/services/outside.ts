/** One request to somebody else's system, as it is sent. */
export interface OutsideRequest {
  method: string;
  url: string;
  headers: readonly (readonly [name: string, value: string])[];
  /** Names of headers, in small letters, that hold a secret: they go to the host that was meant, and no other. */
  secret?: ReadonlySet<string>;
  body?: string | Uint8Array;
  limits: { ms: number; bytes: number };
}

export interface OutsideReply {
  status: number;
  headers: [name: string, value: string][];
  body: Uint8Array;
  /** From the first byte sent to the last one read, in milliseconds. */
  ms: number;
  /** Where the answer came from, after redirects. */
  url: string;
}
