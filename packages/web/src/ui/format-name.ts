const NAMES: Readonly<Record<string, string>> = { opus: 'Opus' };

/** A container or codec as it is written: MP3, FLAC, Opus. */
export const formatName = (name: string): string => NAMES[name] ?? name.toUpperCase();
