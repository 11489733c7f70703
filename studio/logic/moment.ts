const DAY = 86_400_000;
/** A moment as people say it now: a time today, with its day otherwise, and the year where it is another. */
export function momentWords(at: number, now = Date.now()): string {
  const date = new Date(at);
  const time = date.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  const days = Math.round((new Date(at).setHours(0, 0, 0, 0) - new Date(now).setHours(0, 0, 0, 0)) / DAY);
  if (days === 0) return time;
  if (days === 1) return `tomorrow, ${time}`;
  if (days === -1) return `yesterday, ${time}`;
  const day = date.toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
  const year = date.getFullYear();
  return `${day}${year === new Date(now).getFullYear() ? '' : ` ${year}`}, ${time}`;
}
