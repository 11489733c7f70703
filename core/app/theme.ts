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

export const defineTheme = (theme: Theme): Theme => theme;
