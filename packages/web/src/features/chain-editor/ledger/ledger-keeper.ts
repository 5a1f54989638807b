import {
  type Block,
  configureChain,
  cut,
  type Findings,
  framesOf,
  type KnownOfRecording,
  knownFrom,
  type Ledger,
  type LedgerFigures,
  type LedgerRow,
  MemorySignal,
  MemorySpool,
  mapKnown,
  measureLedger,
  type Source,
  type Spool,
  type TimeSpan,
} from '@tonos/core';
import { boxedFrames } from '../../../listening/engine/boxed-frames.ts';
import type { Track } from '../../../listening/engine/messages.ts';
import { type fetchFrames, SampleReader } from '../../../listening/engine/sample-reader.ts';
import { type Checkpoint, Checkpoints } from './checkpoints.ts';
import { type LedgerAsked, prefixKey } from './messages.ts';
import { paintStep } from './paint-step.ts';

/** Of all ledgers of a page. */
export const MOST_LEDGER_BYTES = 160_000_000;
const BLOCK_FRAMES = 4096;
/** First figures come after so much of the signal, renewed ones no sooner than after so much time. */
const INTERIM_SECONDS = 1;
const INTERIM_MS = 250;
/** So long it works before it looks whether something newer was asked. */
const TURN_MS = 25;

export interface KeptRows {
  ledger: Ledger;
  /** By step id. */
  findings: Record<string, Findings>;
  done: boolean;
}

/**
 * Keeps the ledger of a stretch while a chain is edited: what hangs on unchanged steps is taken from what it made before, and only
 * the rest runs.
 */
export class LedgerKeeper {
  private readonly reader: SampleReader;
  private stretchKey = '';
  private source: MemorySignal | undefined;

  /** @param kept that ledgers of one page have together; @param name of this one among them */
  constructor(
    fetchBlock: typeof fetchFrames,
    private readonly pause: () => Promise<void>,
    private readonly kept = new Checkpoints(MOST_LEDGER_BYTES),
    private readonly name = '',
  ) {
    this.reader = new SampleReader(fetchBlock);
  }

  /** @param tell hears rows while they become known; the last ones are `done` */
  async measure(asked: LedgerAsked, signal: AbortSignal, tell: (rows: KeptRows) => void): Promise<void> {
    const source = await this.stretch(asked.track, asked.stretch, asked.known);
    signal.throwIfAborted();
    const chain = configureChain(asked.steps);
    const { on, given, marked } = this.keysOf(asked);
    const known = marked.map((key) => this.get(key));
    const start = known.findLastIndex((one) => one?.signal) + 1;
    const sourceFigures = await this.figuresOfSource(source);
    const done = known.slice(0, start).map((one) => one!);
    const rows = done.map(({ figures, lengthSeconds = 0 }, i) => ({ id: on[i].id, figures, lengthSeconds }));
    const findings = Object.fromEntries(done.map((one, i) => [on[i].id, one.findings]));
    // marks go with their sound
    const knownHere = done.reduce(
      (all, { timeMap }) => (timeMap ? mapKnown(all, timeMap) : all),
      knownFrom(asked.known, asked.stretch.startSeconds),
    );
    const report = (more: readonly LedgerRow[], isAll: boolean) =>
      tell({ ledger: { source: sourceFigures, rows: [...rows, ...more] }, findings: { ...findings }, done: isAll });
    if (start === chain.length) return report([], true);
    report([], false);
    const from = start ? known[start - 1]!.signal! : source;
    const made = new Map<string, MemorySignal>();
    let told = Number.NEGATIVE_INFINITY;
    const result = await measureLedger(
      chain.slice(start),
      this.inTurns(from, signal),
      {
        openSpool: async (format) => this.spoolInTurns(new MemorySpool(format), signal),
        signal,
        known: knownHere,
        frames: from.frames,
        interimFrames: INTERIM_SECONDS * source.format.sampleRateHz,
        interim: (ledger) => {
          if (performance.now() - told < INTERIM_MS) return;
          report(ledger().rows, false);
          told = performance.now();
        },
        heard: (id, block) => {
          if (!framesOf(block)) return;
          const sink = made.get(id) ?? new MemorySignal({ ...source.format, channels: block.length });
          made.set(id, sink);
          sink.write(block);
        },
      },
      given,
    );
    signal.throwIfAborted();
    result.rows.forEach((row, i) => {
      const { findings: own, timeMap } = result.reports[i];
      findings[row.id] = own;
      this.put(marked[start + i], {
        figures: row.figures,
        lengthSeconds: row.lengthSeconds,
        timeMap,
        findings: own,
        signal: made.get(row.id),
      });
    });
    report(result.rows, true);
  }

  /** What one step does, from the samples before and after it; undefined where these are not kept, or it is off. */
  async picture(asked: LedgerAsked, stepId: string, findings: Record<string, Findings>, signal: AbortSignal) {
    const source = await this.stretch(asked.track, asked.stretch, asked.known);
    const { on, marked } = this.keysOf(asked);
    const at = on.findIndex(({ id }) => id === stepId);
    const before = at === 0 ? source : this.get(marked[at - 1] ?? '')?.signal;
    const after = this.get(marked[at] ?? '')?.signal;
    if (at < 0 || !before || !after) return undefined;
    const known = knownFrom(asked.known, asked.stretch.startSeconds);
    const [step] = configureChain([on[at]]);
    const painted = await paintStep(step, this.inTurns(before, signal), after, findings[stepId] ?? {}, known);
    const offset = asked.stretch.startSeconds;
    for (const total of Object.values(painted.totals)) total.atSeconds += offset;
    return { stepId, stretch: asked.stretch, ...painted };
  }

  /** What each step that is on hangs on; findings of the whole recording make other rows than those of the stretch alone. */
  private keysOf(asked: LedgerAsked) {
    const on = asked.steps.filter((step) => step.on);
    const keys = on.map((_, i) => prefixKey(on.slice(0, i + 1)));
    const given = Object.fromEntries(
      on.flatMap(({ id }, i) => (asked.findings[keys[i]] ? [[id, asked.findings[keys[i]]] as const] : [])),
    );
    const marked = keys.map((key, i) => `${key} ${on.slice(0, i + 1).map(({ id }) => (given[id] ? 1 : 0))}`);
    return { on, given, marked };
  }

  /** The samples of a stretch, boxes turned down. */
  private async stretch(
    track: Track,
    { startSeconds, endSeconds }: TimeSpan,
    known: KnownOfRecording,
  ): Promise<MemorySignal> {
    const key = JSON.stringify([track, startSeconds, endSeconds, known]);
    if (this.source && this.stretchKey === key) return this.source;
    this.forget();
    const { sampleRateHz, channels, frames } = track;
    const source = new MemorySignal({ sampleRateHz, channels });
    const to = Math.min(frames, Math.round(endSeconds * sampleRateHz));
    for await (const block of boxedFrames(this.reader, track, Math.round(startSeconds * sampleRateHz), to))
      source.write(block);
    this.source = source;
    this.stretchKey = key;
    return source;
  }

  private async figuresOfSource(source: MemorySignal): Promise<LedgerFigures> {
    const known = this.get('source');
    if (known) return known.figures;
    const { source: figures } = await measureLedger([], source, {
      openSpool: async (format) => new MemorySpool(format),
    });
    this.put('source', { figures, findings: {}, signal: undefined });
    return figures;
  }

  /** Gives up all that it keeps. */
  forget(): void {
    this.kept.forget(`${this.name} `);
  }

  private get(key: string): Checkpoint | undefined {
    return this.kept.get(`${this.name} ${key}`);
  }

  private put(key: string, checkpoint: Checkpoint): void {
    this.kept.put(`${this.name} ${key}`, checkpoint);
  }

  private spoolInTurns(spool: MemorySpool, signal: AbortSignal): Spool {
    const { format, blocks } = this.inTurns(spool, signal);
    return { format, blocks, write: (block) => spool.write(block), discard: () => spool.discard() };
  }

  /** A signal that lets others have their turn while it is read. */
  private inTurns(source: Source, signal: AbortSignal): Source {
    const { pause } = this;
    return {
      format: source.format,
      async *blocks() {
        let since = performance.now();
        for await (const long of source.blocks()) {
          for (const block of cut(long as Block, BLOCK_FRAMES)) {
            if (performance.now() - since > TURN_MS) {
              await pause();
              signal.throwIfAborted();
              since = performance.now();
            }
            yield block.map((channel) => channel.slice());
          }
        }
      },
    };
  }
}
