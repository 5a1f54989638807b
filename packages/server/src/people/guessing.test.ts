import { Guessing, networkOf } from './guessing.ts';

it('takes a whole network of IPv6 for one address, and addresses of IPv4 as they are', () => {
  expect(networkOf('192.0.2.7')).toBe('192.0.2.7');
  expect(networkOf('::ffff:192.0.2.7')).toBe('::ffff:192.0.2.7');
  const same = ['2001:db8:1:2::1', '2001:db8:1:2:ffff:ffff:ffff:ffff', '2001:db8:1:2:0:0:0:9'];
  expect(new Set(same.map(networkOf))).toEqual(new Set(['2001:db8:1:2::/64']));
  expect(networkOf('2001:db8:1:3::1')).not.toBe(networkOf(same[0]));
  expect(networkOf('::1')).toBe('0:0:0:0::/64');
});

const wrong = async () => null;
const right = async () => 'in';

it('counts wrong tries of a name from wherever they come, and forgets them with a right one', async () => {
  const guessing = new Guessing();
  for (let k = 0; k < 4; k++) await guessing.counted('ada', `192.0.2.${k}`, wrong);
  expect(await guessing.counted('ada', '192.0.2.9', right)).toBe('in');
  for (let k = 0; k < 5; k++) await guessing.counted('ada', `192.0.2.${k}`, wrong);
  await expect(guessing.counted('ada', '192.0.2.10', right)).rejects.toMatchObject({
    status: 429,
    details: { retryAfterSeconds: expect.any(Number) },
  });
  // others sign in, and who is signed in under the name is not counted by it
  expect(await guessing.counted('ben', '192.0.2.10', right)).toBe('in');
  expect(await guessing.counted(undefined, '192.0.2.10', right)).toBe('in');
});

it('many at once are counted before they are tried', async () => {
  const guessing = new Guessing();
  let tried = 0;
  const attempt = async () => {
    tried++;
    await new Promise((resolve) => setTimeout(resolve, 20));
    return null;
  };
  const all = await Promise.allSettled(Array.from({ length: 50 }, () => guessing.counted('ada', '192.0.2.1', attempt)));
  expect(tried).toBe(5);
  expect(all.filter(({ status }) => status === 'rejected')).toHaveLength(45);
  // what was refused for its name has not used up the address
  expect(await guessing.counted('ben', '192.0.2.1', right)).toBe('in');
});

it('right ones cost an address nothing', async () => {
  const guessing = new Guessing();
  for (let k = 0; k < 60; k++) expect(await guessing.counted(`name ${k}`, '192.0.2.1', right)).toBe('in');
});
