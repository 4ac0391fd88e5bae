/** A file's size in words. */
export const sayBytes = (bytes: number): string => (bytes >= 1e6 ? `${(bytes / 1e6).toFixed(2)} MB` : `${Math.max(1, Math.round(bytes / 1e3))} kB`);
