/** A text of so many letters at most; one that goes on says so. */
export const inShort = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most)}…` : text);
