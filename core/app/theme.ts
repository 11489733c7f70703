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

/** Colours by what they are for. */
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

export const COLOUR_ROLES = [
  'accent',
  'onAccent',
  'ground',
  'card',
  'tint',
  'edge',
  'ink',
  'soft',
  'good',
  'look',
  'bad',
] as const satisfies readonly (keyof Palette)[];

/** The fonts that ship, by the family their files name. */
export const FONTS = {
  hanken: 'Hanken Grotesk Variable',
  bricolage: 'Bricolage Grotesque Variable',
  nunito: 'Nunito Variable',
  source: 'Source Serif 4 Variable',
} as const;
export type FontId = keyof typeof FONTS;
export const FONT_IDS = Object.keys(FONTS) as [FontId, ...FontId[]];

/** What stands out from the ground: nothing, a line around it, or a shadow under it. */
export const SURFACES = ['plain', 'edged', 'raised'] as const;
/** How large titles are beside other words. */
export const TITLES = ['quiet', 'usual', 'grand'] as const;

/** What a maker changes of a theme. */
export interface OwnLook {
  light?: Partial<Palette> | undefined;
  dark?: Partial<Palette> | undefined;
  corners?: number | undefined;
  density?: number | undefined;
  text?: FontId | undefined;
  head?: FontId | undefined;
  surfaces?: (typeof SURFACES)[number] | undefined;
  titles?: (typeof TITLES)[number] | undefined;
}

export const defineTheme = (theme: Theme): Theme => theme;
