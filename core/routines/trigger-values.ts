/** What something that starts routines may know, beside the record that it is about. */
export const TRIGGER_VALUES = [
  'value before',
  'value now',
  'how far across',
  'how far down',
  'code',
  'what was wrong',
  'notice',
  'words of the notice',
  'name of the record',
  'sender',
  'name of the sender',
  'subject',
  'words of the mail',
  'whole mail',
  'files of the mail',
  'id of the mail',
  'thread of the mail',
  'what was sent',
] as const;
export type TriggerValue = (typeof TRIGGER_VALUES)[number];
