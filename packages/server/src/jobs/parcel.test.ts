import { packParcel, unpackParcel } from './parcel.ts';

const FILES = new Map([
  ['a'.repeat(64), Uint8Array.of(1, 2, 3)],
  ['b'.repeat(64), new Uint8Array()],
  ['c'.repeat(64), Uint8Array.of(255)],
]);
const HEAD = { fence: 3, name: 'Größe' };

it('holds a call and its files as they are', () => {
  const { head, files } = unpackParcel(packParcel({ head: HEAD, files: FILES }));
  expect(head).toEqual(HEAD);
  expect([...files].map(([sha256, bytes]) => [sha256, [...bytes]])).toEqual(
    [...FILES].map(([sha256, bytes]) => [sha256, [...bytes]]),
  );
  expect(unpackParcel(packParcel({ head: null, files: new Map() }))).toEqual({ head: null, files: new Map() });
});

it('whatever is not whole says so', () => {
  const whole = packParcel({ head: HEAD, files: FILES });
  const said = expect.objectContaining({ code: 'broken-parcel' });
  const taken = (bytes: Buffer) => () => unpackParcel(bytes);
  for (let length = 0; length < whole.length; length++) expect(taken(whole.subarray(0, length))).toThrow(said);
  expect(taken(Buffer.concat([whole, Buffer.of(0)]))).toThrow(said);
  // a length that goes beyond its end, JSON that says nothing of files, lengths that add up but go backwards
  expect(taken(Buffer.concat([Buffer.from('ffffffff', 'hex'), whole.subarray(4)]))).toThrow(said);
  const text = (json: string) => Buffer.concat([Buffer.of(json.length, 0, 0, 0), Buffer.from(json)]);
  expect(taken(text('{}'))).toThrow(said);
  expect(taken(text('{"head":1,"files":[["x",-1],["y",1]]}'))).toThrow(said);
});
