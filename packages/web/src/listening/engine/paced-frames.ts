import {
  type Block,
  type ConfiguredStep,
  copyBlock,
  type EvenPace,
  emptyBlock,
  framesOf,
  InLine,
  LiveChain,
  type SignalFormat,
} from '@tonos/core';
import { LiveFrames, stepsOf } from './live-frames.ts';
import type { LiveSteps, Traces } from './messages.ts';
import type { Readable } from './readable.ts';

/** Stretching settles over so much of what lies before the place that is heard. */
const LEAD_SECONDS = 0.3;
const END_FRAMES = 2048;

/** Steps, and the first of them that changes the pace evenly. */
interface PacedSteps {
  before: LiveSteps;
  step: ConfiguredStep;
  pace: EvenPace;
  after: LiveSteps;
}

/** Parts live steps at the one that changes the pace; undefined where none does so just now. */
export function pacedSteps(live: LiveSteps, format: SignalFormat): PacedSteps | undefined {
  if (live.removed) return undefined;
  for (const [i, one] of live.steps.entries()) {
    const [step] = stepsOf({ ...live, steps: [one] });
    const found = one.id === undefined ? undefined : live.findings[one.id];
    const pace = step && !step.scope && found ? step.definition.evenly?.(step.settings, found, format) : undefined;
    if (!pace) continue;
    const { marks, ...known } = live.known;
    const inItsTime = marks.map((mark) => ({
      ...mark,
      startSeconds: mark.startSeconds / pace.tempo,
      endSeconds: mark.endSeconds / pace.tempo,
    }));
    const after = {
      ...live,
      steps: live.steps.slice(i + 1),
      findingsFromSeconds: live.findingsFromSeconds / pace.tempo,
      known: { ...known, marks: inItsTime },
    };
    return { before: { ...live, steps: live.steps.slice(0, i) }, step, pace, after };
  }
  return undefined;
}

/** A sound from one place on at another pace: steps before it, it, and steps behind it, which hear what it makes. */
export class PacedFrames {
  /** Frames of the sound that go into one that is heard. */
  readonly tempo: number;
  private readonly before: LiveFrames;
  private readonly chain: LiveChain;
  private readonly start: number;

  constructor(
    private readonly sound: Readable,
    private paced: PacedSteps,
    private readonly from: number,
  ) {
    const { sampleRateHz } = sound.format;
    const { pace, before, after } = paced;
    this.tempo = pace.tempo;
    this.start = Math.max(0, from - Math.round(LEAD_SECONDS * sampleRateHz));
    this.before = new LiveFrames(sound, before, this.start);
    const format = LiveChain.formatOf(stepsOf(before), sound.format, before);
    this.chain = new LiveChain(stepsOf(after), format, {
      findings: after.findings,
      known: after.known,
      firstFrame: Math.round(this.start / pace.tempo),
      findingsFrame: Math.round(after.findingsFromSeconds * sampleRateHz),
    });
  }

  takeTraces(): Traces {
    return { ...this.before.takeTraces(), ...this.chain.takeTraces() };
  }

  /** Takes new settings of the steps before and behind; false where the pace is another, or the steps are. */
  update(live: LiveSteps): boolean {
    const next = pacedSteps(live, this.sound.format);
    const { step } = this.paced;
    if (!next || next.step.id !== step.id || JSON.stringify(next.step.settings) !== JSON.stringify(step.settings))
      return false;
    const after = stepsOf(next.after);
    if (!this.chain.canBecome(after) || !this.before.update(next.before)) return false;
    this.chain.update(after);
    this.paced = next;
    return true;
  }

  /** @param soundsOn whether, at the sound's own end, what steps behind still have to say is heard as well */
  async *blocks(to: number, soundsOn = false): AsyncGenerator<Block> {
    const { chain, from, start, tempo } = this;
    const tail = soundsOn && to >= this.sound.frames ? chain.tailFrames : 0;
    const inItsTime = (frames: number) => Math.round(frames / tempo);
    const retimer = this.paced.pace.start(to - start);
    const line = new InLine(inItsTime(from - start) + chain.latencyFrames);
    line.goesIn(inItsTime(to - from) + tail);
    const through = function* (blocks: Iterable<Block>): Generator<Block> {
      for (const block of blocks) {
        if (!framesOf(block)) continue;
        const out = line.comesOut(chain.process(copyBlock(block)));
        if (framesOf(out)) yield out;
      }
    };
    for await (const block of this.before.blocks(to)) yield* through(retimer.process(block));
    yield* through(retimer.flush());
    // what the steps behind still hold
    for (let left = chain.latencyFrames + tail; left > 0; left -= END_FRAMES)
      yield* through([emptyBlock(chain.format.channels, Math.min(left, END_FRAMES))]);
  }
}
