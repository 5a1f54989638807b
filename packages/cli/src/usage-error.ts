/** Wrong usage, or a chain or target that can't be used: nothing was written. Exit status 2. */
export class UsageError extends Error {}
