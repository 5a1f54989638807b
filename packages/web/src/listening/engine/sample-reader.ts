import { type Block, silenceBadSamples } from '@tonos/core';
import { problemIn } from '../../api/reason-of.ts';
import type { Track } from './messages.ts';

/** One chunk is quick to fetch, so that listening starts at once, and long enough that few are needed. */
export const CHUNK_FRAMES = 16384;
const KEPT_CHUNKS = 48;

/** Fetches a stretch: float32, one channel after the other. */
export async function fetchFrames({ url, channels }: Track, from: number, frames: number): Promise<Block> {
  const response = await fetch(`${url}${url.includes('?') ? '&' : '?'}from=${from}&frames=${frames}`);
  if (!response.ok) throw new Error(await problemIn(response));
  const samples = new Float32Array(await response.arrayBuffer());
  const each = samples.length / channels;
  return Array.from({ length: channels }, (_, c) => samples.subarray(c * each, (c + 1) * each));
}

/** Samples of tracks by chunks, the last ones kept and the next one fetched ahead. */
export class SampleReader {
  private readonly chunks = new Map<string, Promise<Block>>();

  constructor(private readonly fetchBlock: typeof fetchFrames) {}

  /** At most `frames`, fewer where a chunk ends. The block must not be changed. */
  async read(track: Track, from: number, frames: number): Promise<Block> {
    const index = Math.floor(from / CHUNK_FRAMES);
    const chunk = await this.chunk(track, index);
    if ((index + 1) * CHUNK_FRAMES < track.frames) this.chunk(track, index + 1).catch(() => {}); // told when it is read
    const start = from - index * CHUNK_FRAMES;
    return chunk.map((channel) => channel.subarray(start, start + frames));
  }

  /** Samples that are no numbers are silence here too: filters and ears never meet them. */
  private async fetchSound(track: Track, index: number): Promise<Block> {
    const block = await this.fetchBlock(track, index * CHUNK_FRAMES, CHUNK_FRAMES);
    silenceBadSamples(block);
    return block;
  }

  private chunk(track: Track, index: number): Promise<Block> {
    const key = `${track.url} ${index}`;
    const known = this.chunks.get(key);
    const chunk = known ?? this.fetchSound(track, index);
    this.chunks.delete(key); // the newest lie last
    this.chunks.set(key, chunk);
    if (!known) {
      chunk.catch(() => this.chunks.delete(key));
      if (this.chunks.size > KEPT_CHUNKS) this.chunks.delete(this.chunks.keys().next().value!);
    }
    return chunk;
  }
}
