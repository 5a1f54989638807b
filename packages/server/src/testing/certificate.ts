import { generateKeyPairSync, sign } from 'node:crypto';

const tagged = (tag: number, ...parts: Uint8Array[]): Buffer => {
  const content = Buffer.concat(parts);
  const { length } = content;
  const size = length < 128 ? [length] : length < 256 ? [0x81, length] : [0x82, length >> 8, length & 255];
  return Buffer.concat([Buffer.from([tag, ...size]), content]);
};
const sequence = (...parts: Uint8Array[]) => tagged(0x30, ...parts);
const object = (...bytes: number[]) => tagged(0x06, Buffer.from(bytes));
const ECDSA_SHA256 = sequence(object(0x2a, 0x86, 0x48, 0xce, 0x3d, 0x04, 0x03, 0x02));
const COMMON_NAME = object(0x55, 0x04, 0x03);
const ALTERNATIVE_NAMES = object(0x55, 0x1d, 0x11);

/** A certificate for 127.0.0.1 that signs itself (X.509 v3, RFC 5280), with its key, as PEM. */
export function selfSigned(): { cert: string; key: string } {
  const { publicKey, privateKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  const name = sequence(tagged(0x31, sequence(COMMON_NAME, tagged(0x0c, Buffer.from('Tonos test')))));
  const time = (year: number) => tagged(0x17, Buffer.from(`${year % 100}0101000000Z`));
  const loopback = sequence(tagged(0x87, Buffer.from([127, 0, 0, 1])));
  const body = sequence(
    tagged(0xa0, tagged(0x02, Buffer.from([2]))),
    tagged(0x02, Buffer.from([1])),
    ECDSA_SHA256,
    name,
    sequence(time(2020), time(2049)),
    name,
    publicKey.export({ type: 'spki', format: 'der' }),
    tagged(0xa3, sequence(sequence(ALTERNATIVE_NAMES, tagged(0x04, loopback)))),
  );
  const signature = tagged(0x03, Buffer.from([0]), sign('sha256', body, privateKey));
  const bytes = sequence(body, ECDSA_SHA256, signature)
    .toString('base64')
    .match(/.{1,64}/g)!
    .join('\n');
  return {
    cert: `-----BEGIN CERTIFICATE-----\n${bytes}\n-----END CERTIFICATE-----\n`,
    key: privateKey.export({ type: 'pkcs8', format: 'pem' }) as string,
  };
}
