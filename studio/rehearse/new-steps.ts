import type { App } from '../../core/app/schema.ts';
import type { NewSceneStep, Scene, SceneStep } from '../../core/app/scene-schema.ts';
import { newId } from '../../core/document/ids.ts';

/** The steps that can be added by hand; what people do on phones is recorded in the room. */
export function NEW_STEPS(app: App, scene: Scene): { label: string; make(): SceneStep }[] {
  const who = scene.cast[0]?.id;
  const record = app.tables[0];
  const make =
    (step: NewSceneStep): (() => SceneStep) =>
    () =>
      ({ ...step, id: newId('c') }) as SceneStep;
  return [
    { label: 'Time passes', make: make({ do: 'wait', ms: 3_600_000 }) },
    { label: 'Time passes until …', make: make({ do: 'until', days: 0, time: '16:00' }) },
    {
      label: 'A mail from outside',
      make: make({ do: 'mail', from: 'ada@post.example', name: 'Ada Holm', subject: '', words: '' }),
    },
    ...(who
      ? [
          { label: 'The network of a phone', make: make({ do: 'network', who, network: 'off' }) },
          { label: 'Somebody goes back', make: make({ do: 'back', who }) },
          {
            label: 'Expect that somebody is told',
            make: make({ do: 'expect told', who, how: 'is there', words: '' }),
          },
        ]
      : []),
    {
      label: 'Expect that a mail goes out',
      make: make({ do: 'expect sent', sort: 'mail', how: 'is there', to: '', words: '' }),
    },
    ...(record
      ? [
          {
            label: 'Expect a record',
            make: make({
              do: 'expect record',
              of: { table: record.id, record: '', name: '' },
              how: 'is there',
              words: '',
            }),
          },
        ]
      : []),
    { label: 'A part, with a name', make: make({ do: 'part', name: 'A part' }) },
  ];
}
