import { hash, verify } from '@node-rs/argon2';
import { SHORTEST_PASSWORD } from '@tonos/contract';
import { HttpProblem } from '../http/problems.ts';

/** Argon2id (RFC 9106), 19 MiB and 2 passes. */
const COSTS = { algorithm: 2, memoryCost: 19 * 1024, timeCost: 2, parallelism: 1 } as const;

/** What is verified where there is no such person: an answer takes as long for a wrong name as for a wrong password. */
let nobodys: Promise<string> | undefined;

export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFKC'), COSTS);

/** @param stored null where there is no such person, or they have no password: it is wrong then, and takes as long */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  nobodys ??= hashPassword('nobody has this password');
  const isRight = await verify(stored ?? (await nobodys), password.normalize('NFKC'));
  return stored !== null && isRight;
}

/** @throws HttpProblem 422 for one that would be guessed */
export async function checkPassword(password: string, name: string): Promise<void> {
  const refuse = (message: string) => new HttpProblem(422, 'weak-password', message);
  if ([...password].length < SHORTEST_PASSWORD)
    throw refuse(`A password has ${SHORTEST_PASSWORD} characters or more. A few words in a row are easy to keep.`);
  // large, and only wanted when somebody sets one
  const { dictionary } = await import('@zxcvbn-ts/language-common');
  const common = dictionary['passwords-common'] as readonly string[];
  const plain = password.normalize('NFKC').toLowerCase();
  if (common.includes(plain) || new Set(plain).size < 4 || common.includes(unit(plain)))
    throw refuse('Many people have this password, and it is guessed first. Take another.');
  if (name.length > 3 && plain.includes(name.toLowerCase()) && plain.length - name.length < SHORTEST_PASSWORD / 2)
    throw refuse('A password that is little more than your name is guessed first. Take another.');
}

/** What a text repeats over and over: "passwordpassword" is no better than "password". */
function unit(text: string): string {
  for (let length = 1; length <= text.length / 2; length++) {
    const one = text.slice(0, length);
    if (one.repeat(Math.ceil(text.length / length)).startsWith(text)) return one;
  }
  return text;
}
