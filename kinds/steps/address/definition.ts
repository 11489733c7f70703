import { formula, oneOf } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Opens an address of the web, or begins a call, a mail or a text message (RFC 3966, RFC 6068, RFC 5724). */
export const openAddress = defineStep({
  do: 'address',
  said: { name: 'Open an address', hint: 'or begin a call, mail or message' },
  only: 'phone',
  properties: {
    how: oneOf('what is done', {
      open: 'Open',
      call: 'Call',
      mail: 'Begin a mail to',
      message: 'Begin a text message to',
    }),
    to: formula('the address or number', 'value', {
      unfilled: { severity: 'stops', said: 'the address to open is not filled in.' },
    }),
  },
}).does({
  begin: () => ({ how: 'open', to: '' }),
  start(step, s) {
    const { value } = s.value(step.to, 'The address');
    const given = typeof value === 'string' ? value.trim() : '';
    if (!given) throw new StepError('The address is empty.');
    const address = addressOf(step.how, given);
    return {
      ask: { ask: 'device', what: { do: 'address', address } },
      did: { said: `${SAID[step.how]} ${given}`, gave: 'opened' },
    };
  },
});

const SAID = { open: 'Opened', call: 'Called', mail: 'Began a mail to', message: 'Began a message to' } as const;
const SCHEMES = { call: 'tel', mail: 'mailto', message: 'sms' } as const;

/** The address to open; only such as people mean by a web address, so that nothing is run as code. */
function addressOf(how: keyof typeof SAID, given: string): string {
  if (how === 'mail') return `mailto:${encodeURIComponent(given).replace(/%40/g, '@')}`;
  if (how !== 'open') return `${SCHEMES[how]}:${given.replace(/[^+\d#*]/g, '')}`;
  const address = /^[a-z][a-z0-9+.-]*:/i.test(given) ? given : `https://${given}`;
  const url = URL.canParse(address) ? new URL(address) : null;
  if (!url || !/^(https?|tel|mailto|sms|geo):$/.test(url.protocol)) throw new StepError(`“${given}” cannot be opened.`);
  return url.href;
}
