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
const FORBIDDEN = /[\p{Cc}\p{Cs}/\\:*?"<>|]/gu;
/** A name has 255 bytes in most file systems; a number and an ending must find room. */
const MOST_BYTES = 200;

/** In UTF-8. */
const bytesOf = (character: string): number => {
  const code = character.codePointAt(0)!;
  return code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
};

function shortened(text: string): string {
  let bytes = 0;
  let end = 0;
  for (const character of text) {
    bytes += bytesOf(character);
    if (bytes > MOST_BYTES) break;
    end += character.length;
  }
  return text.slice(0, end);
}

/** Free text as the name of a file or folder: never a path, never empty. */
export const safeName = (text: string, otherwise = 'untitled'): string =>
  shortened(text.replace(FORBIDDEN, ' ').replace(/\s+/g, ' ').trim()).replace(/^[. ]+|[. ]+$/g, '') || otherwise;

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
