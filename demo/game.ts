import type { ElementMaker } from '../core/app/make.ts';
import type { App, Element, Routine, Screen, Step } from '../core/app/schema.ts';
import { makingOf } from './making.ts';
import { beePicture } from './pictures.ts';
import type { FieldType, Variable } from '../core/tables/schema.ts';

const SECONDS = 30;
const BEES = 9;

/** Find the queen: a small game for the open day, made of a play field, a timer and five variables. */
export function addGame(app: App, make: ElementMaker): void {
  const { routine: made, screen, wayTo } = makingOf(app, make);
  const routine = (name: string, steps: Step[], more: Partial<Routine> = {}): Routine => made(name, null, steps, more);
  const own = (name: string, type: FieldType, first: string): Variable => {
    const v = { id: make.id('v'), name, type, lasts: 'app' as const, first } as Variable;
    app.variables = [...(app.variables ?? []), v];
    return v;
  };
  const picture = (name: string, isQueen: boolean): string => {
    const id = make.id('x');
    app.files.push({ id, name, type: 'image/svg+xml', data: btoa(beePicture(isQueen)) });
    return `"file:${id}"`;
  };
  const [beeFile, queenFile] = [picture('Bee', false), picture('Queen', true)];
  const running = own('Game runs', 'yesno', 'false');
  const left = own('Seconds left', 'number', String(SECONDS));
  const found = own('Queens found', 'number', '0');
  const missed = own('Bees touched', 'number', '0');
  const across = own('Queen across', 'number', '50');
  const down = own('Queen down', 'number', '40');
  const put = (v: Variable, value: string): Step => make.step('variable', { how: 'set', variable: v.id, value });
  const add = (v: Variable, value: string): Step => make.step('variable', { how: 'add', variable: v.id, value });
  const run = (r: Routine): Step => make.step('run', { routine: r.id });
  const runs = { match: 'all' as const, conditions: [{ left: running.id, op: 'is' as const, right: 'true' }] };
  /** Somewhere well inside the field, another place each time. */
  const anywhere = '12 + floor(random number() * 76)';

  const score = routine('Tell the score', [
    make.step('message', { words: `{${found.id}} found, {${missed.id}} bees bothered.` }),
  ]);
  const hide = routine('Hide the queen', [put(across, anywhere), put(down, anywhere)]);
  const end = routine('End the game', [put(running, 'false'), make.step('buzz', { how: 'long' }), run(score)]);
  const tick = routine(
    'Count the seconds',
    [
      add(left, '-1'),
      make.step('if', {
        when: { match: 'all', conditions: [{ left: left.id, op: 'under', right: '1' }] },
        then: [run(end)],
        otherwise: [],
      }),
    ],
    { starts: [{ on: 'timer', seconds: 1, how: 'again' }] },
  );
  end.steps.unshift(make.step('timer', { on: 'off', routine: tick.id }));
  const begin = routine('Begin the game', [
    put(left, String(SECONDS)),
    put(found, '0'),
    put(missed, '0'),
    run(hide),
    put(running, 'true'),
    make.step('timer', { on: 'on', routine: tick.id }),
  ]);
  const stop = routine('Give up the game', [run(end)]);
  // Every touch counts, also while the phone still buzzes for the one before.
  const quickly: Partial<Routine> = { overlaps: true };
  const caught = routine(
    'The queen is found',
    [
      make.step('if', {
        when: runs,
        then: [
          add(found, '1'),
          make.step('buzz', { how: 'short' }),
          run(hide),
          make.step('if', {
            when: { match: 'all', conditions: [{ left: `modulo(${found.id}, 5)`, op: 'is', right: '0' }] },
            then: [run(score)],
            otherwise: [],
          }),
        ],
        otherwise: [],
      }),
    ],
    quickly,
  );
  const bothered = routine(
    'A bee is bothered',
    [make.step('if', { when: runs, then: [add(missed, '1')], otherwise: [] })],
    quickly,
  );

  const bee = (i: number): Element =>
    make.make('sprite', {
      label: `Bee ${i + 1}`,
      picture: beeFile,
      size: 15.5,
      // Three rows of three, none quite in its row.
      x: String(16 + (i % 3) * 31 + ((i * 7) % 9)),
      y: String(15 + Math.floor(i / 3) * 31 + ((i * 5) % 9)),
      heading: String((i * 77) % 360),
      speed: `if ${running.id} then ${18 + ((i * 7) % 20)} else 0`,
      tap: { do: 'routine', routine: bothered.id },
    });
  const field = make.make('playfield', {
    tall: 100,
    children: [
      ...Array.from({ length: BEES }, (_, i) => bee(i)),
      make.make('sprite', {
        label: 'The queen',
        picture: queenFile,
        size: 17,
        x: across.id,
        y: down.id,
        heading: '200',
        speed: `if ${running.id} then 26 else 0`,
        tap: { do: 'routine', routine: caught.id },
      }),
    ],
  });
  const played: Screen = {
    id: make.id('s'),
    name: 'Find the queen',
    given: null,
    icon: 'trophy',
    root: make.box(
      'down',
      [
        make.text('Find the queen', 'title'),
        make.text('Touch the queen, and leave the bees alone. She hides again each time.', 'body', { colour: 'soft' }),
        make.box(
          'across',
          [
            make.reading('seconds left', left.id, { width: 'fill' }),
            make.reading('found', found.id, { width: 'fill' }),
            make.reading('bees bothered', missed.id, { width: 'fill' }),
          ],
          { gap: 10 },
        ),
        field,
        make.button('Begin', { do: 'routine', routine: begin.id }, { icon: 'play', seenWhen: `not(${running.id})` }),
        make.button('Give up', { do: 'routine', routine: stop.id }, { look: 'quiet', seenWhen: running.id }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  app.screens.push(played);
  screen('More').root.children.push(wayTo(played));
}
