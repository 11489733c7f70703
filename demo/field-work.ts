import type { ElementMaker } from '../core/app/make.ts';
import type { App, Element, Routine, Screen, Step } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { walkElements } from '../core/document/walk.ts';
import { allOf } from '../core/document/queries.ts';
import type { FieldType, Variable } from '../core/tables/schema.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** Work at the hives with gloves on: a code is scanned, frames are counted, the hive is listened to. */
export function addFieldWork(app: App, n: Names, make: ElementMaker): void {
  const { say, screen, routine, caught, wayTo } = makingOf(app, make);
  const own = (name: string, type: FieldType, first: string, lasts: Variable['lasts'] = 'app'): Variable => {
    const v = { id: make.id('v'), name, type, lasts, first } as Variable;
    app.variables = [...(app.variables ?? []), v];
    return v;
  };
  const put = (v: Variable, value: string, how: 'set' | 'add' = 'set'): Step =>
    make.step('variable', { how, variable: v.id, value });
  const one = (left: string, op: 'is' | 'over' | 'under', right: string) => ({
    match: 'all' as const,
    conditions: [{ left, op, right }],
  });
  const hives = n.table('Hives').id;
  const hive = thisId(hives);
  const h = (f: string): string => n.field('Hives', f);

  // A hive by its code

  const [code, found] = [make.id('v'), make.id('v')];
  const scan = routine('Find a hive by its code', null, [
    caught(make.step('scan', { result: code, resultName: 'code' }), 'No code was read.'),
    caught(
      make.step('get', {
        query: { ...allOf(hives), where: one(h('Tag code'), 'is', code) },
        result: found,
        resultName: 'hive found',
      }),
      `No hive has the code {${code}}.`,
    ),
    make.step('open', { screen: screen('Hive').id, give: found }),
  ]);

  // Frames are counted one by one, and the count is given back

  const frames = own('Frames counted', 'number', '0');
  const more = own('One more frame', 'yesno', 'true');
  const count = routine('Count the frames', null, [
    put(frames, '0'),
    put(more, 'true'),
    make.step('repeat', {
      when: one(more.id, 'is', 'true'),
      most: 22,
      steps: [
        make.step('ask', {
          words: `{${frames.id}} frames so far. Brood on the next one?`,
          yes: 'Brood',
          no: 'That was all',
          then: [put(frames, '1', 'add'), make.step('buzz', { how: 'short' })],
          otherwise: [put(more, 'false')],
        }),
      ],
    }),
    make.step('give', { value: frames.id }),
  ]);
  const counted = make.id('v');
  const written = make.id('v');
  const inspect = routine('Inspect with gloves on', hives, [
    { ...make.step('awake', { on: true }), ifFails: [], reason: make.id('v') },
    make.step('run', { routine: count.id, result: counted, resultName: 'frames of brood' }),
    make.step('together', {
      steps: [
        make.step('add', {
          table: n.table('Visits').id,
          values: [
            { field: n.field('Visits', 'Hive'), value: hive },
            { field: n.field('Visits', 'When'), value: 'now()' },
            { field: n.field('Visits', 'Brood frames'), value: counted },
          ],
          result: written,
          resultName: 'visit written',
        }),
        make.step('set', { record: hive, values: [{ field: h('Status'), value: '"Active"' }] }),
      ],
    }),
    { ...make.step('awake', { on: false }), ifFails: [], reason: make.id('v') },
    say(`{${counted}} frames of brood, written down.`, { has: 'undo' }),
  ]);

  // Listening, with a way to make it stop

  const sound = make.id('v');
  const quiet = routine('Stop listening', null, [make.step('silence')]);
  const listen = routine('Listen to the hive', hives, [
    caught(make.step('record', { most: 20, result: sound, resultName: 'sound of the hive' }), 'Nothing was recorded.'),
    caught(make.step('sound', { source: sound, volume: 100, loop: true }), 'This phone plays no sound.'),
    say('This is how it sounds.', { has: 'run', button: 'Stop', routine: quiet.id }),
  ]);

  // Smoke, and waiting until the bees are calm

  const calm = own('The bees are calm', 'yesno', 'false');
  const smoke = routine('Smoke, and wait', null, [
    put(calm, 'false'),
    make.step('hold', {
      when: one(calm.id, 'is', 'true'),
      time: 'duration("PT2M")',
      late: [say('Two minutes are over. Give them a little more smoke.'), make.step('stop')],
    }),
    make.step('wait', { time: 'duration("PT1S")' }),
    {
      ...make.step('notice', { title: 'The bees are calm', words: 'Open the hive.' }),
      ifFails: [],
      reason: make.id('v'),
    },
    say('Now open the hive.'),
  ]);

  // Where an apiary is

  const apiaries = n.table('Apiaries').id;
  const here = make.id('v');
  const place = routine('It is here', apiaries, [
    caught(make.step('place', { result: here, resultName: 'place of the phone' }), 'The place was not found.'),
    make.step('set', {
      record: thisId(apiaries),
      values: [{ field: n.field('Apiaries', 'Place'), value: here }],
    }),
    say('The place is kept.', { has: 'undo' }),
  ]);

  // Favourites of the person

  const mine = make.id('v');
  const many = make.id('v');
  const favourites = n.table('Favourites').id;
  const clear = routine('Take off my favourites', null, [
    make.step('find', {
      query: {
        ...allOf(favourites),
        where: one(`${n.field('Favourites', 'Keeper')}.${n.field('Keepers', 'Name')}`, 'is', 'person()'),
      },
      result: mine,
      resultName: 'my favourites',
    }),
    make.step('work out', { value: `count(${mine})`, result: many, resultName: 'how many' }),
    make.step('remove', { record: mine }),
    say(`Took off {${many}}.`, { has: 'undo' }),
  ]);

  // What starts by itself

  const fresh = { ...make.step('refresh'), ifFails: [], reason: make.id('v') };
  routine('Fetch what is new', null, [fresh], {
    starts: [
      { on: 'app started' },
      { on: 'screen opened', screen: screen('Swarm reports').id },
      { on: 'screen returned', screen: screen('What is new').id },
    ],
  });
  const game = app.routines.find((r) => r.name === 'End the game')!;
  const running = app.variables!.find((v) => v.name === 'Game runs')!;
  routine(
    'Leave the game',
    null,
    [
      make.step('if', {
        when: one(running.id, 'is', 'true'),
        then: [make.step('run', { routine: game.id })],
        otherwise: [],
      }),
    ],
    { starts: [{ on: 'screen left', screen: screen('Find the queen').id }] },
  );
  const sugar = app.variables!.find((v) => v.name === 'Sugar')!;
  routine(
    'Mind the pan',
    null,
    [
      make.step('if', {
        when: one(sugar.id, 'over', '40'),
        then: [say('The big pan takes 40 kg. Mix it in two goes.')],
        otherwise: [],
      }),
    ],
    { starts: [{ on: 'variable changed', variable: sugar.id }] },
  );
  const [was, is] = ['was', 'is'].map((name, i) => ({
    id: make.id('v'),
    name: `weight that ${name}`,
    type: 'number' as const,
    first: '',
    from: (['value before', 'value now'] as const)[i]!,
  })) as [NonNullable<Routine['inputs']>[number], NonNullable<Routine['inputs']>[number]];
  routine(
    'A hive grows light',
    hives,
    [
      make.step('if', {
        when: one(`${was.id} - ${is.id}`, 'over', '5'),
        then: [say(`{${hive}.${h('Name')}} has lost {${was.id} - ${is.id}} kg. Was it robbed?`)],
        otherwise: [],
      }),
    ],
    { inputs: [was, is], starts: [{ on: 'field changed', table: hives, field: h('Weight') }] },
  );
  const visits = n.table('Visits').id;
  const visit = thisId(visits);
  routine(
    'A fierce hive',
    visits,
    [
      make.step('if', {
        when: one(`${visit}.${n.field('Visits', 'Temper')}`, 'over', '4'),
        then: [
          {
            ...make.step('notify', {
              to: `${visit}.${n.field('Visits', 'Keeper')}.${n.field('Keepers', 'Name')}`,
              title: 'A fierce hive',
              words: `{${visit}.${n.field('Visits', 'Hive')}} was fierce today.`,
            }),
            ifFails: [],
            reason: make.id('v'),
          },
        ],
        otherwise: [],
      }),
    ],
    { starts: [{ on: 'form', table: visits, how: 'saved' }] },
  );

  // On the screens

  const does = (r: Routine) => ({ do: 'routine' as const, routine: r.id });
  const button = (title: string, icon: string, r: Routine, extra: object = {}): Element =>
    make.button(title, does(r), { look: 'quiet', icon, width: 'fill', ...extra });
  const work: Screen = {
    id: make.id('s'),
    name: 'With gloves on',
    given: null,
    icon: 'hexagon',
    root: make.box('down', [], { inside: 16, gap: 12 }),
  };
  const hint = make.text('Smoke first. The phone tells you when it is time.', 'body', { colour: 'soft' });
  const note = { ...make.input(calm.id), label: 'The bees are calm' };
  work.root.children = [
    make.text('With gloves on', 'title'),
    hint,
    button('Find a hive by its code', 'qr-code', scan),
    button('Smoke, and wait', 'timer', smoke),
    note,
    make.button('They are calm', does(quickCalm(routine, make, note.id, hint.id)), {
      off: calm.id,
      icon: 'smile',
      worked: { look: `if ${calm.id} then "quiet" else "main"` },
    }),
  ];
  const away = routine('Put it away', null, [make.step('close')]);
  work.root.children.push(make.button('Put this away', does(away), { look: 'plain' }));
  app.screens.push(work);
  const gloves = routine('Gloves on', hives, [
    make.step('open', { screen: work.id, give: '', as: 'sheet', height: 'half' }),
  ]);
  screen('More').root.children.splice(1, 0, wayTo(work));
  screen('Hive').root.children.push(
    make.box(
      'grid',
      [
        button('Count the frames', 'plus', inspect),
        button('Listen to it', 'microphone', listen),
        button('Gloves on', 'hexagon', gloves),
      ],
      {
        gap: 10,
      },
    ),
  );
  screen('Apiary').root.children.push(button('It is here', 'map-pin', place));
  screen('Favourites').root.children.push(button('Take off my favourites', 'trash', clear, { look: 'plain' }));

  // A long press on the weight forgets it; the end of the piping is explained; a stroke hides the hint of the sketch.
  const forget = routine('Forget the weight', hives, [
    make.step('set', { record: hive, values: [{ field: h('Weight'), value: 'null' }] }),
    say('The weight is taken off.', { has: 'undo' }),
  ]);
  const postcard = make.id('v');
  const apiary = thisId(apiaries);
  const card = routine('Postcard of the apiary', apiaries, [
    caught(
      make.step('caption', {
        picture: `${apiary}.${n.field('Apiaries', 'Photo')}`,
        top: 'Greetings from',
        foot: `{${apiary}.${n.field('Apiaries', 'Name')}}`,
        result: postcard,
        resultName: 'postcard',
      }),
      'There is no photo of it.',
    ),
    caught(make.step('share', { words: 'A postcard', file: postcard }), 'It was not shared.'),
  ]);
  screen('Apiary').root.children.push(button('Send a postcard', 'image', card));
  const heard = routine('What piping means', null, [say('That was a young queen, calling for rivals.')]);
  const sketch = screen('Sketch a frame').root.children;
  const explains = sketch.find((e) => e.kind === 'text' && e.words.startsWith('Mark'))!;
  const drawn = routine('The sketch is begun', null, [make.step('element', { how: 'hide', element: explains.id })]);
  for (const s of app.screens)
    walkElements<Element>([s.root], (e) => {
      if (e.kind === 'button' && e.words === 'Weigh it') e.long = does(forget);
      if (e.kind === 'player' && e.look === 'sound') e.ends = does(heard);
      if (e.kind === 'input' && e.as === 'drawing') e.drawn = does(drawn);
    });
}

/** Fills in the switch as a person would, and puts the hint away. */
function quickCalm(
  routine: (name: string, given: string | null, steps: Step[]) => Routine,
  make: ElementMaker,
  input: string,
  hint: string,
): Routine {
  return routine('They are calm', null, [
    make.step('fill', { element: input, value: 'true' }),
    make.step('element', { how: 'hide', element: hint }),
  ]);
}
