/** A set of looks for an app: every element takes its colours, corners and text from here. */
export interface Theme {
  id: string;
  name: string;
  light: Palette;
  dark: Palette;
  /** Corner radius of cards and controls in pixels. */
  corners: number;
  /** Space at the sides of cards, as a factor on the gaps a maker sets. */
  density: number;
  headings: 'head' | 'text';
}
export interface Palette {
  ground: string;
  card: string;
  tint: string;
  edge: string;
  ink: string;
  soft: string;
  accent: string;
  onAccent: string;
  good: string;
  look: string;
  bad: string;
}

export const THEMES: Theme[] = [
  {
    id: 'straw',
    name: 'Straw',
    corners: 14,
    density: 1,
    headings: 'head',
    light: {
      ground: '#FFFDF8',
      card: '#FFFFFF',
      tint: '#F4ECDA',
      edge: '#E6DAC0',
      ink: '#22302B',
      soft: '#66685C',
      accent: '#A35A00',
      onAccent: '#FFFFFF',
      good: '#1B6A5E',
      look: '#865609',
      bad: '#B23A17',
    },
    dark: {
      ground: '#1C1A15',
      card: '#272419',
      tint: '#332E20',
      edge: '#463F2D',
      ink: '#F4EEDF',
      soft: '#BDB49C',
      accent: '#F0A94A',
      onAccent: '#271800',
      good: '#7CCDB9',
      look: '#E5B762',
      bad: '#FF9B7A',
    },
  },
  {
    id: 'harbour',
    name: 'Harbour',
    corners: 8,
    density: 1,
    headings: 'text',
    light: {
      ground: '#F3F7F8',
      card: '#FFFFFF',
      tint: '#DFEBEE',
      edge: '#CADBE0',
      ink: '#142B36',
      soft: '#516873',
      accent: '#0E6073',
      onAccent: '#FFFFFF',
      good: '#1E6E50',
      look: '#7E5B0C',
      bad: '#AE3A33',
    },
    dark: {
      ground: '#0F1D23',
      card: '#172A32',
      tint: '#1F3843',
      edge: '#2D4B57',
      ink: '#E6F1F4',
      soft: '#9FB8C1',
      accent: '#6CC7DA',
      onAccent: '#04242C',
      good: '#7FD3AE',
      look: '#E2BE6D',
      bad: '#FF9E96',
    },
  },
  {
    id: 'heather',
    name: 'Heather',
    corners: 20,
    density: 1.1,
    headings: 'head',
    light: {
      ground: '#FBF7FA',
      card: '#FFFFFF',
      tint: '#F0E4EE',
      edge: '#E0CFDD',
      ink: '#33243A',
      soft: '#6E5E74',
      accent: '#7B3F86',
      onAccent: '#FFFFFF',
      good: '#2B6C55',
      look: '#85590F',
      bad: '#B0344F',
    },
    dark: {
      ground: '#1D1721',
      card: '#2A2130',
      tint: '#382C40',
      edge: '#4C3D55',
      ink: '#F5ECF7',
      soft: '#BFADC5',
      accent: '#D9A0E3',
      onAccent: '#2C0B33',
      good: '#87D2B4',
      look: '#E6BC6B',
      bad: '#FF9BAE',
    },
  },
  {
    id: 'slate',
    name: 'Slate',
    corners: 4,
    density: 0.9,
    headings: 'text',
    light: {
      ground: '#FFFFFF',
      card: '#FFFFFF',
      tint: '#EFF0EE',
      edge: '#D5D8D3',
      ink: '#1B1F1D',
      soft: '#5C625E',
      accent: '#2F4A3C',
      onAccent: '#FFFFFF',
      good: '#1F6B4A',
      look: '#7F5A0B',
      bad: '#A8352B',
    },
    dark: {
      ground: '#141716',
      card: '#1E2321',
      tint: '#29302D',
      edge: '#3A433F',
      ink: '#ECEFED',
      soft: '#A8B1AC',
      accent: '#9CCBB2',
      onAccent: '#0B2316',
      good: '#86D2A9',
      look: '#E0BD70',
      bad: '#FF9F94',
    },
  },
];

/** The theme of an app; the first when the one it names is not known. */
export const themeOf = (id: string): Theme => THEMES.find((t) => t.id === id) ?? THEMES[0]!;

/** Black or white, whichever reads better on a colour (WCAG relative luminance). */
export function textOn(hex: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = parseInt(hex.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  const l = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return 1.05 / (l + 0.05) >= (l + 0.05) / 0.05 ? '#FFFFFF' : '#111111';
}
