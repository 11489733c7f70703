import {
  ArcElement,
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  DoughnutController,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartConfiguration,
} from 'chart.js';
import type { Point } from './points.ts';
import { strengthOf } from './strength.ts';

Chart.register(
  ArcElement,
  BarController,
  BarElement,
  CategoryScale,
  DoughnutController,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
);

/** Draws points in the colours of the theme around, again when that changes. Gives the way to take it away. */
export function drawChart(
  canvas: HTMLCanvasElement,
  look: 'bars' | 'line' | 'area' | 'ring',
  points: readonly Point[],
): () => void {
  let drawn = make(canvas, look, points);
  const theme = canvas.closest('.k-app');
  const watch = new MutationObserver(() => {
    drawn.destroy();
    drawn = make(canvas, look, points);
  });
  if (theme) watch.observe(theme, { attributes: true, attributeFilter: ['style', 'class'] });
  return () => {
    watch.disconnect();
    drawn.destroy();
  };
}

function make(canvas: HTMLCanvasElement, look: 'bars' | 'line' | 'area' | 'ring', points: readonly Point[]): Chart {
  const style = getComputedStyle(canvas);
  const colour = (name: string): string => style.getPropertyValue(`--k-${name}`).trim() || '#555';
  const [accent, soft, edge, card] = ['accent', 'soft', 'edge', 'card'].map(colour) as [string, string, string, string];
  const font = { family: style.fontFamily, size: 12 };
  const labels = points.map((p) => p.label);
  const data = points.map((p) => p.value);
  const said = points.map((p) => p.said);
  const common = {
    responsive: true,
    maintainAspectRatio: false,
    animation: false as const,
    plugins: {
      tooltip: {
        displayColors: false,
        callbacks: { label: (item: { dataIndex: number }) => said[item.dataIndex] ?? '' },
      },
    },
  };
  const figures = {
    beginAtZero: true,
    border: { display: false },
    grid: { color: edge },
    ticks: { color: soft, font, maxTicksLimit: 5 },
  };
  const names = {
    border: { color: edge },
    grid: { display: false },
    ticks: { color: soft, font, maxRotation: 0, autoSkipPadding: 12 },
  };
  if (look === 'ring')
    return new Chart(canvas, {
      type: 'doughnut',
      data: {
        labels,
        datasets: [
          {
            data: data.map((v) => v ?? 0),
            backgroundColor: data.map((_, i) => withStrength(accent, strengthOf(i))),
            borderColor: card,
            borderWidth: 2,
          },
        ],
      },
      options: { ...common, cutout: '62%' },
    } satisfies ChartConfiguration<'doughnut'>);
  if (look === 'bars')
    return new Chart(canvas, {
      type: 'bar',
      data: { labels, datasets: [{ data, backgroundColor: accent, borderRadius: 4, maxBarThickness: 18 }] },
      options: {
        ...common,
        indexAxis: 'y',
        scales: {
          x: figures,
          y: {
            ...names,
            ticks: {
              ...names.ticks,
              autoSkip: false,
              callback: (_v, i) => `${short(labels[i] ?? '')}  ${said[i] ?? ''}`,
            },
          },
        },
      },
    } satisfies ChartConfiguration<'bar'>);
  return new Chart(canvas, {
    type: 'line',
    data: {
      labels,
      datasets: [
        {
          data,
          borderColor: accent,
          borderWidth: 2,
          pointRadius: points.length > 24 ? 0 : 3,
          pointBackgroundColor: accent,
          tension: 0.25,
          fill: look === 'area',
          backgroundColor: withStrength(accent, 0.16),
        },
      ],
    },
    options: { ...common, scales: { x: names, y: figures } },
  } satisfies ChartConfiguration<'line'>);
}

const short = (label: string): string => (label.length > 16 ? `${label.slice(0, 15)}…` : label);

/** A colour of six digits, so much of it. */
const withStrength = (hex: string, strength: number): string =>
  /^#[0-9a-f]{6}$/i.test(hex)
    ? `${hex}${Math.round(strength * 255)
        .toString(16)
        .padStart(2, '0')}`
    : hex;
