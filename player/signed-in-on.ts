/** The device of a session as people call it, by what its browser says of itself. */
export const deviceOf = (browser: string): string =>
  /iphone|ipad/i.test(browser)
    ? 'an iPhone or iPad'
    : /android/i.test(browser)
      ? 'an Android phone'
      : /mobile/i.test(browser)
        ? 'a phone'
        : 'a computer';

/** When a session was seen, with day and time. */
export const seenAt = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
