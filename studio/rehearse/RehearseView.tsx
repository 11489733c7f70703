import { useParams } from 'react-router';
import { ChanceView } from './ChanceView.tsx';
import { CoveredView } from './CoveredView.tsx';
import { Room } from './Room.tsx';
import { SceneView } from './SceneView.tsx';

/** The Rehearse workspace: the room, or a scene that was kept. */
export function RehearseView() {
  const { thing } = useParams();
  if (thing === 'chance') return <ChanceView />;
  if (thing === 'covered') return <CoveredView />;
  return thing ? <SceneView key={thing} id={thing} /> : <Room />;
}
