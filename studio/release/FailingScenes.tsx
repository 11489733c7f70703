import { Link } from 'react-router';
import type { Played } from '../rehearse/scenes.ts';
import { useHome } from '../state/studio.ts';
import { Button, Note } from '../ui/controls.tsx';

/** The scenes that hold a release back, each with its first difference. */
export function FailingScenes({ failing, releaseAnyway }: { failing: readonly Played[]; releaseAnyway(): void }) {
  const home = useHome();
  if (failing.length === 0) return null;
  return (
    <Note tone="bad" action={<Button onClick={releaseAnyway}>Release anyway</Button>}>
      <b className="font-semibold">
        {failing.length === 1 ? 'A scene fails' : `${failing.length} scenes fail`}, so nothing was released.
      </b>
      <ul className="mt-1 space-y-1">
        {failing.map(({ scene, result }) => (
          <li key={scene.id} className="break-words">
            <Link to={`${home}/rehearse/${scene.id}`} className="font-semibold underline underline-offset-2">
              {scene.name}
            </Link>
            : {result.failed?.said ?? result.problem}
          </li>
        ))}
      </ul>
    </Note>
  );
}
