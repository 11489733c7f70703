/** What went wrong, as RFC 9457 has it. */
export const problem = (status: number, detail: string, more: object = {}): object => ({
  type: 'about:blank',
  status,
  title: status === 404 ? 'Not found' : status === 401 ? 'Not signed in' : 'Refused',
  detail,
  ...more,
});
