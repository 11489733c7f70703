import { newId } from '../core/document/ids.ts';
import type { SentMessage } from '../core/released/messages.ts';

/** The mail with the code by which somebody signs in to an app. */
export const codeMail = (app: string, mail: string, code: string): SentMessage => ({
  id: newId('m'),
  to: [mail],
  subject: `${code} is your code for ${app}`,
  body: `Type ${code} where you want to sign in to ${app}. It is good for ten minutes, on the device that asked for it.\n\nIf that was not you, somebody has typed your address: without this code they get no further.`,
});

/** The mail with the link by which somebody signs in once, with words of the maker. */
export const invitationMail = (app: string, mail: string, link: string, words: string): SentMessage => ({
  id: newId('m'),
  to: [mail],
  subject: `You are invited to ${app}`,
  body: `${words.trim() ? `${words.trim()}\n\n` : ''}Open ${app} with this link:\n${link}\n\nIt signs you in once, within two weeks. It is for you alone: do not pass it on.`,
});
