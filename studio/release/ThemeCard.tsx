import { Link } from 'react-router';
import { ThemeChoice } from '../look/ThemeChoice.tsx';
import { useHome } from '../state/studio.ts';

/** The theme: four to choose from; the rest of it has a desk of its own. */
export function ThemeCard() {
  const home = useHome();
  return (
    <section className="card px-5 py-4">
      <div className="mb-2.5 flex items-center justify-between">
        <h2 className="text-[14px]">Theme</h2>
        <Link to={`${home}/screens/theme`} className="text-sm font-semibold text-kelp hover:underline">
          Its colours, fonts and shapes
        </Link>
      </div>
      <ThemeChoice />
    </section>
  );
}
