import { type CSSProperties, useEffect, useRef } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { chart } from './definition.ts';
import { strengthOf } from './strength.ts';
import './chart.css';

type DrawnChart = Drawn<typeof chart>;

export default function ChartView({ e }: { e: DrawnChart }) {
  if (e.look === 'number') return <Tile e={e} />;
  const nothing = e.points.every((p) => p.value === null);
  return (
    <figure className="k-chart" data-e={e.id} data-look={e.look} style={sizeOf(e)}>
      {e.title && <figcaption>{e.title}</figcaption>}
      {nothing ? <p className="k-empty">Nothing to show yet.</p> : <Picture e={e} />}
      {!nothing && (e.look === 'ring' ? <Key e={e} /> : <Table e={e} />)}
      {e.left > 0 && <p className="k-chart-left">{e.left} more are left out.</p>}
    </figure>
  );
}

/** One figure. It keeps the room for its longest word: tiles in a row that get too narrow stand below each other. */
function Tile({ e }: { e: DrawnChart }) {
  const said = e.points[0]?.said ?? '0';
  const size = sizeOf(e);
  const longest = Math.max(...said.split(/\s/).map((word) => [...word].length));
  const room = typeof e.width === 'number' ? {} : { minWidth: undefined, '--k-signs': longest };
  return (
    <div className="k-chart" data-e={e.id} data-look="number" style={{ ...size, ...room } as CSSProperties}>
      <b>{said}</b>
      <span>{e.title}</span>
    </div>
  );
}

/** The drawing. Its package is large, and comes when a chart is first seen; what it says stands in the table. */
function Picture({ e }: { e: DrawnChart }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const data = JSON.stringify(e.points);
  useEffect(() => {
    let gone = false;
    let end = (): void => {};
    void import('./view-drawing.ts').then(({ drawChart }) => {
      if (!gone && canvas.current) end = drawChart(canvas.current, e.look as 'bars', e.points);
    });
    return () => {
      gone = true;
      end();
    };
  }, [data, e.look]);
  const lines = e.points.length;
  return (
    <div className="k-chart-picture" style={e.look === 'bars' ? { height: Math.max(120, 26 * lines + 30) } : undefined}>
      <canvas ref={canvas} aria-hidden />
    </div>
  );
}

/** What the parts of a ring are, with their figures. */
function Key({ e }: { e: DrawnChart }) {
  return (
    <ul className="k-chart-key">
      {e.points.map((p, i) => (
        <li key={p.label}>
          <i style={{ opacity: strengthOf(i) }} aria-hidden />
          <span>{p.label}</span>
          <b>{p.said}</b>
        </li>
      ))}
    </ul>
  );
}

/** The figures as a table, for those who do not see the drawing. */
function Table({ e }: { e: DrawnChart }) {
  return (
    <table className="k-unseen">
      <caption>{e.title}</caption>
      <tbody>
        {e.points.map((p) => (
          <tr key={p.label}>
            <th scope="row">{p.label}</th>
            <td>{p.said}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
