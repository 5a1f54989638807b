import {
  type Block,
  type ConfiguredStep,
  configureChain,
  cut,
  emptyBlock,
  framesOf,
  InLine,
  LiveChain,
  type SignalFormat,
} from '@tonos/core';
import type { LiveSteps, Traces } from './messages.ts';
import type { Readable } from './readable.ts';

/** Filters and followers settle over so much of what lies before the place that is heard. */
const RUN_IN_SECONDS = 0.4;
/** Small pieces: what is changed is heard soon. */
const PIECE_FRAMES = 512;

/** A sound from one place on, through steps that may change meanwhile; in line with it, whatever the steps' latency. */
export class LiveFrames {
  private readonly chain: LiveChain;
  private readonly start: number;

  constructor(
    private readonly sound: Readable,
    private live: LiveSteps,
    private readonly from: number,
  ) {
    const { sampleRateHz } = sound.format;
    this.start = Math.max(0, from - Math.round(RUN_IN_SECONDS * sampleRateHz));
    this.chain = new LiveChain(stepsOf(live), sound.format, {
      findings: live.findings,
      known: live.known,
      removed: live.removed,
      firstFrame: this.start,
      findingsFrame: Math.round(live.findingsFromSeconds * sampleRateHz),
    });
  }

  takeTraces(): Traces {
    return this.chain.takeTraces();
  }

  /** Takes new settings; false where the steps themselves are others. */
  update(live: LiveSteps): boolean {
    const steps = stepsOf(live);
    const same = live.removed === this.live.removed && this.chain.canBecome(steps) && sameFindings(live, this.live);
    if (!same) return false;
    this.live = live;
    this.chain.update(steps);
    return true;
  }

  /** @param soundsOn whether, at the sound's own end, what steps still have to say is heard as well */
  async *blocks(to: number, soundsOn = false): AsyncGenerator<Block> {
    const { chain, sound } = this;
    const tail = soundsOn && to >= sound.frames ? chain.tailFrames : 0;
    const line = new InLine(this.from - this.start + chain.latencyFrames);
    line.goesIn(to - this.from + tail);
    for await (const piece of this.pieces(to + tail)) {
      const inLine = line.comesOut(chain.process(piece));
      if (framesOf(inLine)) yield inLine;
    }
  }

  /** The sound in small pieces of its own, and silence after its end until the steps have let out what they hold. */
  private async *pieces(to: number): AsyncGenerator<Block> {
    const { sound, chain } = this;
    const end = Math.min(sound.frames, to + chain.latencyFrames);
    for await (const block of sound.blocks(this.start, end))
      for (const piece of cut(block, PIECE_FRAMES)) yield piece.map((channel) => channel.slice());
    for (let left = to + chain.latencyFrames - end; left > 0; left -= PIECE_FRAMES)
      yield emptyBlock(sound.format.channels, Math.min(left, PIECE_FRAMES));
  }
}

/** What steps make of a format. */
export const formatBehind = (format: SignalFormat, live: LiveSteps): SignalFormat =>
  LiveChain.formatOf(stepsOf(live), format, live);

/** Steps start again with what is newly found; most often it is what was found before. */
const sameFindings = (a: LiveSteps, b: LiveSteps): boolean =>
  a.steps.every(({ id = '' }) => JSON.stringify(a.findings[id]) === JSON.stringify(b.findings[id]));

/** Steps that can't run are not heard; the page says what is wrong with them. */
export function stepsOf({ steps }: Pick<LiveSteps, 'steps'>): ConfiguredStep[] {
  return steps.flatMap((step) => {
    try {
      return configureChain([step]);
    } catch {
      return [];
    }
  });
}
