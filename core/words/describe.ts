/** A picture as its pixels: red, green, blue and cover of each, row after row. */
export interface Pixels {
  data: Uint8ClampedArray;
  width: number;
  height: number;
}

/** A picture that is known by a name. */
export interface Sample {
  name: string;
  pixels: Pixels;
}

export interface Description {
  words: string;
  /** 0 to 1: how clearly the figures behind the words stand apart. */
  sure: number;
}

/** Names of colours by their hue in degrees, up to where each goes. */
const HUES: [to: number, name: string][] = [
  [15, 'red'],
  [40, 'orange'],
  [68, 'yellow'],
  [165, 'green'],
  [200, 'turquoise'],
  [255, 'blue'],
  [290, 'violet'],
  [340, 'pink'],
  [361, 'red'],
];

/** The name of a colour, from its hue, saturation and lightness. */
export function colourName(r: number, g: number, b: number): string {
  const [max, min] = [Math.max(r, g, b) / 255, Math.min(r, g, b) / 255];
  const light = (max + min) / 2;
  const spread = max - min;
  if (light > 0.92) return 'white';
  if (light < 0.1) return 'black';
  const saturation = spread / (1 - Math.abs(2 * light - 1));
  if (saturation < 0.14) return 'grey';
  const [x, y, z] = [r / 255, g / 255, b / 255];
  const sixth = max === x ? ((y - z) / spread + 6) % 6 : max === y ? (z - x) / spread + 2 : (x - y) / spread + 4;
  const hue = sixth * 60;
  if (hue > 15 && hue < 55 && light < 0.42) return 'brown';
  return HUES.find(([to]) => hue <= to)![1];
}

/**
 * A picture small enough to count through, and its grey values, each the mean of what it covers; covered by white where
 * it is clear.
 */
function shrunk(p: Pixels, size: number): { rgb: number[][]; grey: number[] } {
  const rgb: number[][] = [];
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const sum = [0, 0, 0];
      let n = 0;
      for (let py = Math.floor((y * p.height) / size); py < Math.max(1, Math.ceil(((y + 1) * p.height) / size)); py++)
        for (let px = Math.floor((x * p.width) / size); px < Math.max(1, Math.ceil(((x + 1) * p.width) / size)); px++) {
          const i = (Math.min(py, p.height - 1) * p.width + Math.min(px, p.width - 1)) * 4;
          const cover = p.data[i + 3]! / 255;
          for (let c = 0; c < 3; c++) sum[c]! += p.data[i + c]! * cover + 255 * (1 - cover);
          n++;
        }
      rgb.push(sum.map((s) => s / n));
    }
  return { rgb, grey: rgb.map(([r, g, b]) => 0.2126 * r! + 0.7152 * g! + 0.0722 * b!) };
}

/** The average hash of a picture: which of 64 fields are lighter than the mean. */
function averageHash(p: Pixels): boolean[] {
  const { grey: all } = shrunk(p, 8);
  const mean = all.reduce((a, b) => a + b, 0) / all.length;
  return all.map((v) => v > mean);
}
const SIZE = 48;

/** The share of points where the light changes sharply (the operator of Sobel and Feldman, 1968). */
function edges(values: readonly number[]): number {
  let sharp = 0;
  const at = (x: number, y: number): number => values[y * SIZE + x]!;
  for (let y = 1; y < SIZE - 1; y++)
    for (let x = 1; x < SIZE - 1; x++) {
      const gx =
        at(x + 1, y - 1) + 2 * at(x + 1, y) + at(x + 1, y + 1) - at(x - 1, y - 1) - 2 * at(x - 1, y) - at(x - 1, y + 1);
      const gy =
        at(x - 1, y + 1) + 2 * at(x, y + 1) + at(x + 1, y + 1) - at(x - 1, y - 1) - 2 * at(x, y - 1) - at(x + 1, y - 1);
      if (Math.hypot(gx, gy) > 140) sharp++;
    }
  return sharp / (SIZE - 2) ** 2;
}

interface Shape {
  points: number;
  width: number;
  height: number;
}

/** Things that stand apart from the colour of the border, by their joined points. */
function shapes(rgb: readonly number[][]): Shape[] {
  const border = rgb.filter((_, i) => i < SIZE || i >= SIZE * (SIZE - 1) || i % SIZE === 0 || i % SIZE === SIZE - 1);
  const mean = [0, 1, 2].map((c) => border.reduce((s, p) => s + p[c]!, 0) / border.length);
  const apart = rgb.map((p) => Math.hypot(...p.map((v, c) => v - mean[c]!)) > 70);
  const found: Shape[] = [];
  for (let start = 0; start < apart.length; start++) {
    if (!apart[start]) continue;
    const [xs, ys]: [number[], number[]] = [[], []];
    const open = [start];
    apart[start] = false;
    while (open.length) {
      const i = open.pop()!;
      const [x, y] = [i % SIZE, Math.floor(i / SIZE)];
      xs.push(x);
      ys.push(y);
      for (const [dx, dy] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ] as const) {
        const [nx, ny] = [x + dx, y + dy];
        const n = ny * SIZE + nx;
        if (nx >= 0 && ny >= 0 && nx < SIZE && ny < SIZE && apart[n]) {
          apart[n] = false;
          open.push(n);
        }
      }
    }
    const span = (v: number[]): number => v.reduce((a, b) => Math.max(a, b)) - v.reduce((a, b) => Math.min(a, b)) + 1;
    if (xs.length >= 12) found.push({ points: xs.length, width: span(xs), height: span(ys) });
  }
  return found.sort((a, b) => b.points - a.points);
}

/** A disc fills π/4 of the square around it, a box all of it. */
function shapeName({ points, width, height }: Shape): string {
  const filled = points / (width * height);
  const ratio = width / height;
  const long = ratio > 1.6 ? 'wide ' : ratio < 0.62 ? 'tall ' : '';
  if (filled > 0.9) return `${long}box`;
  if (Math.abs(filled - Math.PI / 4) < 0.07) return long ? `${long}oval` : 'disc';
  return filled < 0.35 ? 'thin shape' : `${long}shape`;
}

const listed = (words: string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)!}`;

/**
 * What can be told of a picture from its points alone: light, colours, whether it is busy, shapes before a plain ground,
 * a code that was read in it, and which known picture it looks like. It knows nothing of the world.
 */
export function describe(p: Pixels, code: string | null, samples: readonly Sample[]): Description {
  if (p.width === 0 || p.height === 0) return { words: 'An empty picture.', sure: 0 };
  const { rgb, grey: greys } = shrunk(p, SIZE);
  const share = new Map<string, number>();
  for (const [r, g, b] of rgb) {
    const name = colourName(r!, g!, b!);
    share.set(name, (share.get(name) ?? 0) + 1 / rgb.length);
  }
  const colours = [...share].filter(([, n]) => n > 0.08).sort((a, b) => b[1] - a[1]);
  const mean = greys.reduce((a, b) => a + b, 0) / greys.length;
  const light = mean > 170 ? 'bright' : mean < 80 ? 'dark' : 'evenly lit';
  const sharp = edges(greys);
  const busy = sharp > 0.25 ? 'busy' : sharp > 0.06 ? 'with some detail' : 'calm';
  const stands = p.width > p.height * 1.15 ? 'wide' : p.height > p.width * 1.15 ? 'tall' : 'square';
  const said = [
    `A ${stands}, ${light} picture, ${busy}, mostly ${listed(colours.slice(0, 3).map(([n]) => n)) || 'of many colours'}.`,
  ];
  const apart = sharp <= 0.25 ? shapes(rgb) : [];
  if (apart.length === 1) said.push(`One ${shapeName(apart[0]!)} stands before a plain ground.`);
  else if (apart.length > 1 && apart.length <= 30)
    said.push(`${apart.length} things stand before a plain ground, the largest a ${shapeName(apart[0]!)}.`);
  if (code) said.push(`It shows a code that says “${code}”.`);
  const hash = averageHash(p);
  const likest = samples
    .map((s) => ({ name: s.name, same: averageHash(s.pixels).filter((v, i) => v === hash[i]).length / 64 }))
    .sort((a, b) => b.same - a.same)[0];
  const isKnown = likest !== undefined && likest.same > 0.9;
  if (isKnown) said.push(`It looks like “${likest.name}”.`);
  const [first = 0, second = 0] = colours.map(([, n]) => n);
  const sure = isKnown
    ? likest.same
    : code
      ? 0.95
      : Math.min(0.9, 0.4 + (first - second) / 2 + (apart.length ? 0.1 : 0));
  return { words: said.join(' '), sure: Math.round(sure * 100) / 100 };
}
