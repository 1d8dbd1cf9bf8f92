/** A number of bytes for people. */
export const inWords = (bytes: number): string =>
  bytes < 1e4
    ? `${bytes} bytes`
    : bytes < 1e6
      ? `${(bytes / 1e3).toFixed(0)} kB`
      : `${(bytes / 1e6).toFixed(1)} MB`
