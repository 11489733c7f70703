import { formula, words } from '../../../core/document/meaning.ts';
import { dateTimeText } from '../../../core/formula/temporal.ts';
import { CalendarDate, DateTime, type Value } from '../../../core/formula/values.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** The time left until a moment. */
export const countdown = defineElement({
  kind: 'countdown',
  said: { name: 'Countdown', hint: 'the time left' },
  properties: {
    label: words('the label'),
    until: formula('the moment', 'value', { unfilled: { severity: 'look', said: 'the moment is not chosen.' } }),
    ended: words('the words when it is over'),
  },
}).does({
  begin: () => ({ label: 'Starts in', until: '', ended: 'It has begun.' }),
  name: (e, naming) => naming.words(e.label),
  draw(e, d) {
    const label = d.words(e.label);
    const ended = d.words(e.ended);
    const until = d.formula(e.until);
    return (p) => ({ label: label(p), ended: ended(p), until: momentOf(until.at(p)) });
  },
});

/** A moment as ISO 8601: local where it has no zone of its own. Null for anything else. */
function momentOf(v: Value): string | null {
  if (v instanceof CalendarDate) return dateTimeText(new DateTime(v.day * 86_400_000));
  if (!(v instanceof DateTime)) return null;
  return v.offset === null ? dateTimeText(v) : new Date(v.instant).toISOString();
}
