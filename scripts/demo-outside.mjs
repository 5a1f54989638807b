// `npm run demo:outside`: stands in for another program. It looks into the exchange folder for sound that went out, lets it ring on a little,
// and writes it back late and slowly.
import { appendFile, mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { build, endWithParent, install, project } from './prepare.mjs';

endWithParent();
install();
build();
const { ByteWriter, openAudio, writeWav } = await import('@tonos/formats');

const LOOK_MS = 500;
const LATE_MS = Number(process.env.TONOS_OUTSIDE_LATE_MS ?? 3000);
const PIECES = 5;
const PAUSE_MS = 300;
/** What it does: each sound comes again after so long, so much weaker. */
const AGAIN_SECONDS = 0.18;
const AGAIN = 0.35;

const data = resolve(process.env.TONOS_DATA ?? join(project, 'data'));
const exchange = resolve(process.env.TONOS_EXCHANGE ?? join(data, 'exchange'));
const [out, back] = [join(exchange, 'out'), join(exchange, 'back')];
const done = new Set();

/** Lets a signal ring on, block by block. */
function ringing({ sampleRateHz, channels }) {
  const length = Math.round(AGAIN_SECONDS * sampleRateHz);
  const kept = Array.from({ length: channels }, () => new Float32Array(length));
  let at = 0;
  return (block) => {
    for (let i = 0; i < block[0].length; i++, at = (at + 1) % length)
      block.forEach((channel, c) => {
        channel[i] += AGAIN * kept[c][at];
        kept[c][at] = channel[i];
      });
  };
}

async function treat(name, path) {
  const audio = await openAudio(join(out, name), name);
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: audio.format, bitDepth: 32 });
  const ring = ringing(audio.format);
  for await (const block of audio.blocks()) {
    ring(block);
    await writer.write(block);
  }
  await writer.finish();
  await bytes.close();
  await audio.close();
}

async function bringBack(name) {
  const folder = await mkdtemp(join(tmpdir(), 'tonos-outside-'));
  try {
    console.log(`${name}: taken`);
    await treat(name, join(folder, 'treated.wav'));
    await wait(LATE_MS);
    const bytes = await readFile(join(folder, 'treated.wav'));
    const size = Math.ceil(bytes.length / PIECES);
    await rm(join(back, name), { force: true });
    for (let from = 0; from < bytes.length; from += size) {
      await appendFile(join(back, name), bytes.subarray(from, from + size));
      await wait(PAUSE_MS);
    }
    console.log(`${name}: written back`);
  } catch (error) {
    console.error(`${name}: ${error.message}`);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

console.log(`Looks into ${out}. Send something out, and it comes back to ${back}. Ctrl c ends it.`);
for (;;) {
  const names = await readdir(out).catch(() => []);
  for (const name of names.filter((one) => one.endsWith('.wav') && !one.startsWith('.') && !done.has(one))) {
    done.add(name);
    void bringBack(name);
  }
  await wait(LOOK_MS);
}
