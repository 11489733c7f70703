import { CircleCheck, CircleDashed, CircleX, Dices, ListChecks, LoaderCircle, Smartphone } from 'lucide-react';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { useApp, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { isCurrent, useScenes } from './scenes.ts';

/** The room, the scenes that were kept, and how each ended the last time. */
export function SceneIndex({ selected }: { selected: string }) {
  const app = useApp();
  const home = useHome();
  const played = useScenes((s) => s.played);
  const playing = useScenes((s) => s.playing);
  const play = useScenes((s) => s.play);
  const stop = useScenes((s) => s.stop);
  const scenes = app.scenes ?? [];
  return (
    <Index label="Scenes">
      <IndexGroup title="Rehearse">
        <IndexItem to={`${home}/rehearse`} icon={Smartphone} name="The room" selected={false} />
        <IndexItem to={`${home}/rehearse/chance`} icon={Dices} name="Chance" selected={selected === 'chance'} />
        <IndexItem to={`${home}/rehearse/covered`} icon={ListChecks} name="Covered" selected={selected === 'covered'} />
      </IndexGroup>
      <IndexGroup title="Scenes">
        {scenes.length === 0 && (
          <li className="px-1.5 text-sm text-ink-soft">None yet. What you do in the room can be kept as one.</li>
        )}
        {scenes.map((s) => {
          const of = played[s.id];
          const icon =
            playing?.scene === s.id
              ? LoaderCircle
              : !of || !isCurrent(of, app)
                ? CircleDashed
                : of.result.passed
                  ? CircleCheck
                  : CircleX;
          const hint =
            icon === LoaderCircle ? 'plays' : icon === CircleX ? 'fails' : icon === CircleCheck ? 'passes' : '';
          return (
            <IndexItem
              key={s.id}
              to={`${home}/rehearse/${s.id}`}
              icon={icon}
              name={s.name}
              hint={hint}
              selected={s.id === selected}
            />
          );
        })}
      </IndexGroup>
      {scenes.length > 0 && selected !== 'covered' && (
        <div className="px-1.5">
          <Button small onClick={() => (playing ? stop() : void play(scenes.map((s) => s.id)).catch(() => undefined))}>
            {playing ? 'Stop' : 'Play all'}
          </Button>
        </div>
      )}
    </Index>
  );
}
