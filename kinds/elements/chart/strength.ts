/** How strong the parts of a ring are in the colour of the theme; neighbours stand apart. */
const STRENGTHS = [1, 0.72, 0.5, 0.34, 0.86, 0.6, 0.42, 0.27, 0.78, 0.55, 0.38, 0.2];
/** How strong a part of a ring is, of 1; after twelve it begins again. */
export const strengthOf = (part: number): number => STRENGTHS[part % STRENGTHS.length]!;
