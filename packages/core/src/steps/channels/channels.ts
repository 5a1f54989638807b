import type * as z from 'zod';
import { choice, percent, settingsOf } from '../../settings/settings.ts';
import { changeLayout } from '../../signal/change-layout.ts';
import { plainFigure } from '../../signal/figures.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { defineStep, type Findings, noTrace, type Processor } from '../step.ts';
import { type Layout, LayoutStudy } from './layout-study.ts';
import { MovingWidth } from './moving-width.ts';

const MODES = ['mix-to-mono', 'left-only', 'right-only', 'to-stereo', 'swap', 'auto-mono'] as const;

const settings = settingsOf(() => ({
  mode: choice('Channels', MODES, {
    default: 'mix-to-mono',
    labels: {
      'mix-to-mono': 'Mix to mono',
      'left-only': 'Left only',
      'right-only': 'Right only',
      'to-stereo': 'To stereo',
      swap: 'Swap left and right',
      'auto-mono': 'Mono where it is mono',
    },
    description:
      'Mono where it is mono: takes the live side of a one-sided file, mends a flipped side, keeps real stereo.',
  }),
  widthPercent: percent('Width', {
    min: 0,
    max: 200,
    default: 100,
    description: 'Of what stays stereo: 0 is mono, 100 as it is.',
  }),
}));

export type ChannelsSettings = z.output<typeof settings>;

export interface ChannelsFindings extends Findings {
  /** What `auto-mono` found in two channels. */
  readonly layout?: Layout;
  readonly note?: string;
}

const NOTES: Readonly<Record<Layout, string>> = {
  left: 'Only the left side is live: it was taken.',
  right: 'Only the right side is live: it was taken.',
  alike: 'Both sides hold the same sound: mixed to mono.',
  flipped: 'One side had its polarity flipped: it was mended, and both mixed to mono.',
  stereo: 'The two sides differ: kept as stereo.',
};

/** Gains of left and right for one channel out of two. */
const MIXES: Readonly<Record<Exclude<Layout, 'stereo'>, readonly [left: number, right: number]>> = {
  left: [1, 0],
  right: [0, 1],
  alike: [0.5, 0.5],
  flipped: [0.5, -0.5],
};

export const channels = defineStep<ChannelsSettings, ChannelsFindings>({
  kind: 'channels',
  title: 'Channels',
  group: 'layout',
  summary: 'Makes mono of stereo and stereo of mono, takes one side, swaps sides, or sets the width.',
  words: ['mono', 'stereo', 'left', 'right', 'one side', 'swap', 'width', 'narrow', 'phase'],
  settings,
  describe: ({ mode, widthPercent }) =>
    `${mode.replaceAll('-', ' ')}${widthPercent === 100 ? '' : `, width ${plainFigure(widthPercent)} %`}`,
  needsStudy: ({ mode }) => mode === 'auto-mono',
  study: (_, format) => {
    if (format.channels !== 2) return { hear: () => {}, conclude: () => ({}) };
    const study = new LayoutStudy();
    return {
      hear: (block) => study.hear(block),
      conclude: () => {
        const layout = study.conclude();
        return { layout, note: NOTES[layout] };
      },
    };
  },
  outputChannels: ({ mode }, before, { layout }) => {
    if (mode === 'to-stereo') return before === 1 ? 2 : before;
    if (mode === 'swap') return before;
    if (mode === 'auto-mono') return before === 2 && layout !== 'stereo' ? 1 : before;
    return 1;
  },
  start: (first, format, findings) => new LayoutProcessor(first, format, findings),
});

class LayoutProcessor implements Processor<ChannelsSettings> {
  readonly latencyFrames = 0;
  readonly takeTrace = noTrace;

  private readonly width: MovingWidth;

  constructor(
    private settings: ChannelsSettings,
    private readonly format: SignalFormat,
    private readonly findings: ChannelsFindings,
  ) {
    this.width = new MovingWidth(settings.widthPercent / 100, format.sampleRateHz);
  }

  update(settings: ChannelsSettings): void {
    this.settings = settings;
  }

  process(): void {
    // a layout step answers a block instead: see layOut
  }

  layOut(block: Block): Block {
    const { mode, widthPercent } = this.settings;
    const out = this.arrange(block, mode);
    return out.length === 2 ? this.width.apply(out, widthPercent / 100) : out;
  }

  private arrange(block: Block, mode: ChannelsSettings['mode']): Block {
    const last = block.length - 1;
    switch (mode) {
      case 'left-only':
        return [block[0]];
      case 'right-only':
        return [block[Math.min(1, last)]];
      case 'mix-to-mono':
        return changeLayout(block, this.format, 1);
      case 'to-stereo':
        return last === 0 ? [block[0], block[0].slice()] : block;
      case 'swap':
        return last === 1 ? [block[1], block[0]] : block;
      case 'auto-mono': {
        const { layout } = this.findings;
        if (last !== 1 || layout === undefined || layout === 'stereo') return block;
        const [left, right] = MIXES[layout];
        return [block[0].map((x, i) => left * x + right * block[1][i])];
      }
    }
  }
}
