import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const SOURCES = join(import.meta.dirname, '..');
const rootOf = (library: string) => {
  const program = fileURLToPath(import.meta.resolve(library));
  return program.slice(0, program.indexOf(library) + library.length);
};
const LIBRARY = join(rootOf('@mantine/core'), 'esm');

const read = (file: string) => readFileSync(file, 'utf8');
const programs = (folder: string, ends: RegExp) =>
  (readdirSync(folder, { recursive: true }) as string[])
    .filter((name) => ends.test(name))
    .map((name) => join(folder, name));

/** Names that programs take from the library, types as well. */
const taken = (files: readonly string[]) =>
  files.flatMap((file) =>
    [...read(file).matchAll(/import \{([^}]*)\} from ['"]@mantine\/core['"]/g)].flatMap(([, names]) =>
      names.split(',').map((name) => name.trim().split(' as ')[0]),
    ),
  );

/** Where the library has what it calls by a name. */
const places = new Map(
  [...read(join(LIBRARY, 'index.mjs')).matchAll(/import \{([^}]*)\} from "(\.[^"]*)"/g)].flatMap(([, names, file]) =>
    names.split(',').map((name) => [name.trim().split(' as ').at(-1)!, join(LIBRARY, file)] as const),
  ),
);

/** The styles that a part of the library draws with, and all that it is made of. */
function stylesOf(file: string, seen: Set<string>): string[] {
  if (seen.has(file)) return [];
  seen.add(file);
  const styled = /([^/]+)\.module\.mjs$/.exec(file);
  if (styled) return [styled[1]];
  return [...read(file).matchAll(/(?:from|import) "(\.[^"]*)"/g)].flatMap(([, other]) =>
    stylesOf(join(dirname(file), other), seen),
  );
}

it('every part of the library that is used has its styles, in the order that the library gives them', () => {
  const seen = new Set<string>();
  const names = [
    ...taken(programs(SOURCES, /(?<!\.test)\.tsx?$/)),
    ...['@mantine/dropzone', '@mantine/notifications'].flatMap((library) =>
      taken(programs(join(rootOf(library), 'esm'), /\.mjs$/)),
    ),
  ];
  const wanted = names.flatMap((name) => stylesOf(places.get(name) ?? name, places.has(name) ? seen : new Set([name])));
  const listed = [...read(join(import.meta.dirname, 'library.css')).matchAll(/styles\/([\w-]+)\.css/g)].map(
    ([, one]) => one,
  );
  expect(wanted.length).toBeGreaterThan(30);
  expect(wanted.filter((one) => !listed.includes(one))).toEqual([]);
  const whole = read(join(rootOf('@mantine/core'), 'styles.css'));
  const beginsAt = listed.map((one) =>
    whole.indexOf(
      read(join(rootOf('@mantine/core'), 'styles', `${one}.css`))
        .trim()
        .slice(0, 200),
    ),
  );
  expect(beginsAt).toEqual(beginsAt.toSorted((a, b) => a - b));
  expect(beginsAt).not.toContain(-1);
});
