import { expect, it } from 'vitest';
import { NeverTakenError, OfflineError } from '../host/link.ts';
import type { Outgoing } from '../session/effects.ts';
import { sendMail } from './mail.ts';

const mail = (id: string): Outgoing => ({ id, to: ['a@b.example'], subject: id, body: '' });

/** Sends three messages of which the second fails. Gives what became of each, and what was said. */
async function sendThree(fails: Error) {
  const sent: string[] = [];
  const gone: string[] = [];
  const said: string[] = [];
  const send = async ({ id }: Outgoing): Promise<void> => {
    if (id === 'two') throw fails;
    sent.push(id);
  };
  const store = {
    unsentMail: async () => ['one', 'two', 'three'].map(mail),
    mailSent: async (id: string) => void gone.push(id),
  };
  const rejected = await sendMail(store, send, (w) => void said.push(w)).catch((e: Error) => e.message);
  return { sent, gone, said, rejected };
}

it('a message that the host never takes is said and let go of, one for which it has no room waits, and neither holds up others', async () => {
  expect(await sendThree(new NeverTakenError('“x” is not a mail address.'))).toEqual({
    sent: ['one', 'three'],
    gone: ['one', 'two', 'three'],
    said: ['“two” cannot be sent: “x” is not a mail address.'],
    rejected: undefined,
  });
  expect(await sendThree(new Error('The outbox is full.'))).toEqual({
    sent: ['one', 'three'],
    gone: ['one', 'three'],
    said: ['“two” waits to be sent: The outbox is full.'],
    rejected: undefined,
  });
});

it('without a way to the host all that is left waits in its order', async () => {
  expect(await sendThree(new OfflineError('no way'))).toEqual({
    sent: ['one'],
    gone: ['one'],
    said: [],
    rejected: 'no way',
  });
});
