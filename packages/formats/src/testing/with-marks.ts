import { appendFileSync, closeSync, openSync, statSync, writeSync } from 'node:fs';

const chunk = (id: string, body: Uint8Array): Buffer => {
  const padded = Buffer.alloc(8 + body.length + (body.length % 2));
  padded.write(id, 'latin1');
  padded.writeUInt32LE(body.length, 4);
  padded.set(body, 8);
  return padded;
};

const le32 = (...values: number[]): Buffer => {
  const bytes = Buffer.alloc(4 * values.length);
  values.forEach((value, i) => {
    bytes.writeUInt32LE(value, 4 * i);
  });
  return bytes;
};

/** Puts named places into a WAV file: a cue chunk, and a LIST of their labels (RIFF MCI 1.0). */
export function withMarks(path: string, marks: readonly { name: string; frame: number }[]): string {
  const cues = marks.map(({ frame }, i) => Buffer.concat([le32(i + 1, frame), Buffer.from('data'), le32(0, 0, frame)]));
  const labels = marks.map(({ name }, i) => chunk('labl', Buffer.concat([le32(i + 1), Buffer.from(`${name}\0`)])));
  appendFileSync(path, chunk('cue ', Buffer.concat([le32(marks.length), ...cues])));
  appendFileSync(path, chunk('LIST', Buffer.concat([Buffer.from('adtl'), ...labels])));
  const file = openSync(path, 'r+');
  writeSync(file, le32(statSync(path).size - 8), 0, 4, 4);
  closeSync(file);
  return path;
}
