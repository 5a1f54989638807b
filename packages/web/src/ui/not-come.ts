/** A file of the program that did not come, in our words: a browser names its address. */
export function notCome(cause: unknown): never {
  throw new Error('A part of the program did not come from the server: see whether it answers.', { cause });
}
