import { describe, expect, it } from 'vitest';
import { aOrAn, freeName, singular } from './names.ts';

describe('a thing with its article', () => {
  it.each([
    'a hive',
    'an article',
    'an order',
    'an hour',
    'a house',
    'a unit',
    'a user',
    'an uncle',
    'an unknown thing',
    'a use',
    'a utility',
    'a euro',
    'a ewe',
    'an event',
    'an SMS',
    'an X-ray',
    'a school',
    'a URL',
    'an image',
    'an input',
    'a European',
    'an honour',
    'a one-off',
  ])('%s', (said) => {
    const thing = said.slice(said.indexOf(' ') + 1);
    expect(aOrAn(thing)).toBe(said);
  });
});

describe('names', () => {
  it('are free by counting up, in capitals or not', () => {
    expect(freeName('Hives', ['hives', 'HIVES 2'])).toBe('Hives 3');
    expect(freeName('  ', [])).toBe('Untitled');
  });
  it.each([
    ['Hives', 'hive'],
    ['Bee boxes', 'bee box'],
    ['Entries', 'entry'],
    ['Glass', 'glass'],
    ['Buses', 'buse'],
    ['Days', 'day'],
    ['Status', 'status'],
    ['  ', 'record'],
    ['People', 'person'],
    ['News', 'news item'],
    ['Species', 'species'],
    ['School children', 'school child'],
  ])('one of %j is called %j', (many, one) => expect(singular(many)).toBe(one));
});
