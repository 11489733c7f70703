import { expect, it } from 'vitest';
import { F, hiveApp, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { thisId } from '../document/ids.ts';
import { askedElsewhere } from './asked-elsewhere.ts';
import { hostOf, hostsIn, hostsOf } from './elsewhere.ts';
import { ElementMaker } from './make.ts';

const make = new ElementMaker();

it.each<[string, string | null]>([
  ['https://Pictures.Example/a.png', 'pictures.example'],
  ['http://pictures.example:8080/a.png', 'pictures.example:8080'],
  ['https://pictures.example:443/a.png', 'pictures.example'],
  ['https://somebody@pictures.example/a.png', 'pictures.example'],
  // As browsers read them, these are elsewhere too.
  ['//pictures.example/a.png', 'pictures.example'],
  ['/\\pictures.example/a.png', 'pictures.example'],
  ['/\t/pictures.example/a.png', 'pictures.example'],
  ['  https:pictures.example/a.png', 'pictures.example'],
  ['http:pictures.example/a.png', 'pictures.example'],
  ['https:\\\\pictures.example', 'pictures.example'],
  ['/a/bees/icon-192.png', null],
  ['data:image/png;base64,AA==', null],
  ['kept:0123', null],
  ['https://', null],
  ['', null],
])('the host of %j is %j', (address, host) => expect(hostOf(address)).toBe(host));

it('an app may ask the hosts that its document names, in words and in formulas, and those that are allowed', () => {
  const app = hiveApp();
  app.screens[0]!.root = make.box('down', [
    make.make('picture', { source: '"https://one.example/" + f_name000' }),
    make.text('See [more](https://two.example/a), or https://three.example.'),
  ]);
  app.elsewhere = ['four.example'];
  expect([...hostsOf(app)].sort()).toEqual(['four.example', 'one.example', 'three.example.', 'two.example']);
  expect(hostsIn('none at all: https://')).toEqual([]);
});

it('records that would have it ask elsewhere are counted by host, as far as something shows what they hold', () => {
  const app = hiveApp();
  app.screens[0]!.root = make.box('down', [
    make.make('picture', { source: `${thisId(T.hives)}.${F.tag}` }),
    make.make('rich', { words: `{${thisId(T.hives)}.${F.status}}` }),
  ]);
  // A formula field gives what another field names.
  const computed = {
    id: 'f_computed00',
    name: 'Computed',
    type: 'formula' as const,
    formula: `"https://" + ${F.name}`,
  };
  app.tables[0]!.fields.push(computed);
  app.routines = [
    {
      id: 'q_ring000000',
      name: 'Ring',
      given: T.hives,
      steps: [make.step('sound', { source: `${thisId(T.hives)}.${computed.id}` })],
    },
  ];
  app.elsewhere = ['allowed.example'];
  const records = new Records(app);
  const put = (id: string, cells: object): void => void records.set(T.hives, id, cells as never);
  put('a', { [F.tag]: 'https://spy.example/1.png', [F.name]: 'bells.example/a' });
  put('b', { [F.tag]: 'https://spy.example/2.png and https://spy.example/3.png' });
  put('c', { [F.tag]: '//allowed.example/1.png' });
  put('f', { [F.tag]: '//spy.example/4.png' });
  put('d', { [F.tag]: 7 });
  put('g', { [F.tag]: 'data:image/svg+xml,<svg xmlns="http://www.w3.org/2000/svg"/>' });
  put('e', { [F.status]: 'A [link](https://only-linked.example) and a picture: ![x](https://drawn.example/x.png)' });
  expect(askedElsewhere(app, records)).toEqual([
    { host: 'allowed.example', how: 'allowed', records: 0, table: '' },
    { host: 'spy.example', how: 'barred', records: 3, table: 'Hives' },
    { host: 'bells.example', how: 'barred', records: 1, table: 'Hives' },
    { host: 'drawn.example', how: 'barred', records: 1, table: 'Hives' },
  ]);
});
