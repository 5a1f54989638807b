/** What a delivered file's name can be made of. */
export interface NameParts {
  /** The source's base name. */
  name: string;
  /** The recording's own title, or its base name. */
  title: string;
  /** The show or book. */
  album: string;
  /** Place in the title, from 1, and how many there are: numbers get as many digits as the last one. */
  track: number;
  tracks: number;
  speaker: string;
}

export const NAME_WORDS = ['name', 'title', 'album', 'track', 'speaker'] as const;

/** What no file system or archive takes in a name. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
const FORBIDDEN = /[\x00-\x1f\x7f/\\:*?"<>|]/g;
const MOST_CHARACTERS = 150;

/** Free text as the name of a file or folder: never a path, never empty. */
export const safeName = (text: string, otherwise = 'untitled'): string =>
  text
    .replace(FORBIDDEN, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, MOST_CHARACTERS)
    .replace(/^[. ]+|[. ]+$/g, '') || otherwise;

/** A name that is not taken yet: where it is, " (2)" and so on stands before the ending. */
export function freeName(base: string, ending: string, isTaken: (name: string) => boolean): string {
  let name = `${base}${ending}`;
  for (let n = 2; isTaken(name); n++) name = `${base} (${n})${ending}`;
  return name;
}

/** The words in braces that a template calls and that do not exist. */
export const unknownWords = (template: string): string[] =>
  [...template.matchAll(/\{([^}]*)\}/g)].map(([, word]) => word).filter((word) => !NAME_WORDS.includes(word as never));

/** A file's base name from a template such as `{track} {title}`; what is left empty falls back to the source's own name. */
export function deliveredName(template: string, parts: NameParts): string {
  const values: Record<(typeof NAME_WORDS)[number], string> = {
    ...parts,
    track: String(parts.track).padStart(Math.max(2, String(parts.tracks).length), '0'),
  };
  const filled = template.replace(/\{(\w+)\}/g, (whole, word: string) => values[word as keyof typeof values] ?? whole);
  return safeName(filled, safeName(parts.name));
}
