import { describe, expect, it } from 'vitest';
import { readReply } from './reply.ts';

const read = (type: string, text: string) => readReply(type, new TextEncoder().encode(text));
const value = (type: string, text: string): unknown => {
  const r = read(type, text);
  return r.is === 'json' ? r.value : r;
};

describe('answers that are data and no JSON', () => {
  it('of CSV are records by their first line', () => {
    expect(value('text/csv; charset=utf-8', '\ufeffName;Weight\nClover;"9,5"\n\nVetch;8\n')).toEqual([
      { Name: 'Clover', Weight: '9,5' },
      { Name: 'Vetch', Weight: '8' },
    ]);
    expect(value('text/csv', 'a,a\n1,2,3\n')).toEqual([{ a: '1', a_1: '2', '(more)': ['3'] }]);
  });
  it('of feeds are elements by their names, lists where there are several', () => {
    const rss =
      '<?xml version="1.0"?><rss version="2.0" xmlns:dc="x"><channel><title>News</title><item><title>One</title><dc:date>2026-11-30</dc:date><link href="a"/></item><item><title><![CDATA[Two & <b>]]></title></item></channel></rss>';
    expect(value('application/rss+xml', rss)).toEqual({
      rss: {
        '@version': '2.0',
        channel: {
          title: 'News',
          item: [{ title: 'One', 'dc:date': '2026-11-30', link: { '@href': 'a' } }, { title: 'Two & <b>' }],
        },
      },
    });
    expect(value('', '<feed><entry id="1">words</entry></feed>')).toEqual({
      feed: { entry: { '@id': '1', '#text': 'words' } },
    });
  });
  it('of calendars are their events', () => {
    const ics =
      'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:a@b\r\nSUMMARY:Open\r\n  day\r\nDTSTART:20261130T080000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n';
    expect(value('text/calendar', ics)).toMatchObject({
      events: [{ uid: 'a@b', summary: 'Open day', dtstart: '2026-11-30T08:00:00Z' }],
    });
    const zoned =
      'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nATTENDEE:mailto:a@x.example\r\nATTENDEE:mailto:b@x.example\r\nDTSTART;TZID=Europe/Berlin:20260701T103000\r\nDTEND;TZID=Nowhere:20260701T113000\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n';
    expect(value('text/calendar', zoned)).toEqual({
      events: [
        {
          attendee: ['mailto:a@x.example', 'mailto:b@x.example'],
          dtstart: '2026-07-01T10:30:00+02:00',
          dtend: '2026-07-01T11:30:00',
        },
      ],
    });
  });
  it('stay text where they are cut off, pages, or made to be too much', () => {
    for (const [type, text] of [
      ['application/xml', '<a><b>'],
      ['text/html', '<html><body>x</body></html>'],
      ['', '<!DOCTYPE html><html></html>'],
      ['application/xml', '<a>'.repeat(200) + '</a>'.repeat(200)],
      ['application/xml', '<!DOCTYPE x [<!ENTITY a "aaaa">]><x>&a;</x>'],
      ['text/plain', 'Just words, and more'],
    ] as const)
      expect(read(type, text), text.slice(0, 40)).toEqual({ is: 'text', text });
    // Names that mean something to JavaScript are only data.
    expect(JSON.stringify(value('application/xml', '<a><__proto__>x</__proto__></a>'))).toBe('{"a":{"__proto__":"x"}}');
  });
});
