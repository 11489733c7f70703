/** Bytes as people say them. */
export const sized = (bytes: number): string =>
  bytes < 1000
    ? `${bytes} bytes`
    : bytes < 1_000_000
      ? `${Math.round(bytes / 1000)} kB`
      : `${(bytes / 1_000_000).toFixed(1)} MB`;
