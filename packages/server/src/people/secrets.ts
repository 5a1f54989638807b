import { createHash, randomBytes } from 'node:crypto';

/** 256 random bits, as text that fits a cookie, a header and an address. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** What is stored of a secret. It is random already: a plain hash can't be turned back. */
export const secretHash = (secret: string): string => createHash('sha256').update(secret).digest('hex');
