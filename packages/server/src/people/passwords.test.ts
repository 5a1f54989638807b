import { checkPassword, hashPassword, isPassword } from './passwords.ts';

it('knows a password again, whole and as it was given, and no other', async () => {
  const password = `  Grüße an die Möwen, ${'lang '.repeat(60)}`;
  const stored = await hashPassword(password);
  expect(stored).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
  expect(await isPassword(stored, password)).toBe(true);
  // an accent of another keyboard is the same accent (NFKC)
  expect(await isPassword(stored, password.normalize('NFD'))).toBe(true);
  for (const other of [password.trim(), password.toLowerCase(), password.slice(0, -1), `${password}x`, ''])
    expect(await isPassword(stored, other)).toBe(false);
  expect(await hashPassword(password)).not.toBe(stored); // each with a salt of its own
});

it('who has none can sign in with none', async () => {
  for (const password of ['', 'nobody has this password']) expect(await isPassword(null, password)).toBe(false);
});

it.each([
  'elevenchars',
  '123456123456',
  'qwertyuiop123',
  '1q2w3e4r5t6y',
  'ababababababab',
  'dragondragon',
  'Tamsin Adler 7',
])('takes no “%s”', async (password) => {
  await expect(checkPassword(password, 'Tamsin Adler')).rejects.toMatchObject({ status: 422, code: 'weak-password' });
});

it.each(['seven herons at low tide', 'ﬂuß und ufer 🌊🌊🌊', '            x  y z w', 'only-lower-case-letters'])(
  'asks for no kinds of signs: “%s”',
  async (password) => {
    await expect(checkPassword(password, 'Tamsin Adler')).resolves.toBeUndefined();
  },
);
