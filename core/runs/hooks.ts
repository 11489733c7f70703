import { hmac } from '@noble/hashes/hmac.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, hexToBytes, utf8ToBytes } from '@noble/hashes/utils.js';
import type { App } from '../app/schema.ts';
import { Refused } from '../document/refused.ts';
import { newRecordId } from '../host/device.ts';
import { readCell } from '../records/cells.ts';
import { checkCell } from '../records/check-cell.ts';
import { keptValue, type KeptValue } from '../records/kept-value.ts';
import type { InputDoc } from '../routines/program.ts';
import { inputsFrom } from '../routines/trigger.ts';
import type { Cell } from '../fields/lists.ts';
import { triggersOf } from './ready.ts';
import { runId, type Start } from './start.ts';

/** A call of an address of the app, as it came. */
export interface HookCall {
  /** The routine whose address it is. */
  routine: string;
  /** The secret in the address; empty for none. */
  secret: string;
  /** Its headers, in small letters. */
  headers: Readonly<Record<string, string | undefined>>;
  body: Uint8Array;
}

const MOST_ONCE = 200;

/** The secret of a hook, from the one that the host keeps for all of an app: it is the same as long as the routine is. */
export const hookSecret = (ofApp: string, routine: string): string =>
  bytesToHex(hmac(sha256, utf8ToBytes(ofApp), utf8ToBytes(`hook ${routine}`))).slice(0, 40);

/** Are two texts the same? It takes as long whether or not. */
function isSame(a: string, b: string): boolean {
  if (a.length !== b.length) return false;
  let differs = 0;
  for (let i = 0; i < a.length; i++) differs |= a.charCodeAt(i) ^ b.charCodeAt(i);
  return differs === 0;
}

/** Headers with a signature in hexadecimal, with or without the method before it (as in WebSub, W3C, section 7). */
const SIGNATURES = ['x-signature', 'x-signature-256', 'x-hub-signature', 'signature'];
function isSigned({ headers, body }: HookCall, secret: string): boolean {
  const wanted = hmac(sha256, utf8ToBytes(secret), body);
  return SIGNATURES.some((name) => {
    const given = /^(?:sha256=)?([0-9a-f]{64})$/i.exec(headers[name]?.trim() ?? '')?.[1];
    return given !== undefined && isSame(bytesToHex(hexToBytes(given.toLowerCase())), bytesToHex(wanted));
  });
}

/** Whoever guesses learns nothing: there is no such address. */
const nothing = (): Refused => new Refused(404, 'There is nothing at this address.');

/** Throws a {@link Refused} in words for whoever may not call. `ofApp` is the secret of the app. */
export function mustShowWho(app: App, ofApp: string, call: HookCall): void {
  const found = triggersOf(app, 'hook called').find((t) => t.routine.id === call.routine);
  const secret = hookSecret(ofApp, call.routine);
  if (!found) throw nothing();
  const { trigger } = found;
  if (trigger.proof === 'secret' && !isSame(call.secret, secret)) throw nothing();
  if (trigger.proof === 'signature' && !isSigned(call, secret))
    throw new Refused(
      401,
      'The signature does not fit what was sent. It is the HMAC-SHA-256 of the body, in hexadecimal.',
    );
}

/** What a call starts. Throws a {@link Refused} in words where what is sent does not fit. */
export function startOf(app: App, call: Pick<HookCall, 'routine' | 'headers' | 'body'>): Start {
  const found = triggersOf(app, 'hook called').find((t) => t.routine.id === call.routine);
  if (!found) throw nothing();
  const { routine, trigger, at } = found;
  const text = new TextDecoder().decode(call.body);
  const once = call.headers[trigger.once.trim().toLowerCase()]?.trim() ?? '';
  if (once.length > MOST_ONCE) throw new Refused(422, `“${trigger.once}” is too long.`);
  return {
    // Without a mark every call is one of its own, whatever it sends.
    id: runId('hook', routine.id, at, once || newRecordId()),
    routine: routine.id,
    given: null,
    values: { ...inputsFrom(routine, { 'what was sent': text }), ...inputsOf(routine.inputs ?? [], text) },
    said: `Another system called${once ? ` (${once})` : ''}`,
    path: [routine.id],
  };
} // prettier-ignore

/** The values of JSON for the inputs that are called as they are, whatever the case of their letters. */
function inputsOf(inputs: readonly InputDoc[], text: string): Record<string, KeptValue> {
  const wanted = inputs.filter((i) => i.from === undefined);
  if (wanted.length === 0) return {};
  let sent: unknown;
  try {
    sent = JSON.parse(text);
  } catch {
    throw new Refused(422, 'What was sent is not JSON.');
  }
  if (typeof sent !== 'object' || sent === null || Array.isArray(sent))
    throw new Refused(422, 'What was sent is not an object in JSON.');
  const values = new Map(Object.entries(sent).map(([name, v]) => [name.toLowerCase(), v as unknown]));
  return Object.fromEntries(
    wanted.flatMap((input) => {
      const value = values.get(input.name.toLowerCase());
      return value === undefined || value === null ? [] : [[input.id, keptCell(input, value)]];
    }),
  );
}

/** A value of JSON as an input takes it. Throws in words where it is none of its type: nothing is bent. */
function keptCell(input: InputDoc, value: unknown): KeptValue {
  const cell: Cell = typeof value === 'object' ? JSON.stringify(value) : (value as Cell);
  const wrong = checkCell(input, cell);
  if (wrong) throw new Refused(422, `“${input.name}”: ${wrong}`);
  return keptValue(readCell(input, cell));
}
