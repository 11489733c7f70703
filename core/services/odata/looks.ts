/** Does a text look like OData metadata? */
export const looksLikeOData = (text: string): boolean =>
  /<(\w+:)?Edmx[\s>]/.test(text.slice(0, 2000)) || /"\$EntityContainer"/.test(text.slice(0, 20_000));
