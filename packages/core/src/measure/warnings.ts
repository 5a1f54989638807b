import { powerToDb } from '../signal/decibels.ts';
import type { ActivityFigures } from './activity/activity.ts';
import { upperEdgeHz } from './band-limit.ts';
import type { SoundFigures, Warning } from './measurement.ts';

/** What a warning needs besides the figures. */
export interface Evidence {
  figures: Omit<SoundFigures, 'warnings' | 'complaints'>;
  activity: ActivityFigures;
  channelMeanSquares: readonly number[];
  sampleRateHz: number;
  badSamples: number;
}

const db = (value: number) => value.toFixed(1).replace('-', '\u2212');

/** Each rule looks at the evidence and says its sentence, or nothing. */
const RULES: readonly ((evidence: Evidence) => Warning | undefined)[] = [
  ({ channelMeanSquares }) => {
    if (channelMeanSquares.length !== 2) return undefined;
    const [left, right] = channelMeanSquares;
    const difference = powerToDb((Math.min(left, right) + 1e-14) / (Math.max(left, right) + 1e-14));
    if (difference > -20) return undefined;
    const side = left > right ? 'left' : 'right';
    return {
      code: 'one-sided',
      message: `The sound is on the ${side} only: the other channel is ${db(-difference)} dB lower.`,
    };
  },
  ({ figures }) =>
    figures.channelCorrelation !== null && figures.channelCorrelation < -0.5
      ? {
          code: 'polarity',
          message: `Left and right cancel in mono (correlation ${figures.channelCorrelation.toFixed(2)}): one side's polarity is flipped.`,
        }
      : undefined,
  ({ figures }) =>
    figures.clippedRuns > 0
      ? {
          code: 'clipped',
          message: `${figures.clippedRuns} ${figures.clippedRuns === 1 ? 'run' : 'runs'} of samples flat at a ceiling: the recording is clipped there.`,
        }
      : undefined,
  ({ figures }) =>
    Math.abs(figures.dcOffset) > 0.001
      ? {
          code: 'dc-offset',
          message: `The waveform is off centre by ${(figures.dcOffset * 100).toFixed(2)} % of full scale. A high-pass takes it out.`,
        }
      : undefined,
  ({ figures }) =>
    figures.integratedLufs !== null && figures.integratedLufs < -40
      ? {
          code: 'too-quiet',
          message: `Very quiet: ${db(figures.integratedLufs)} LUFS. Raising it raises its noise as well.`,
        }
      : undefined,
  ({ figures, activity }) =>
    figures.roomTone.length === 0 && activity.speech.length > 0
      ? {
          code: 'no-room-tone',
          message: 'No stretch of room tone was found: noise reduction will learn the noise while it runs.',
        }
      : undefined,
  ({ figures }) =>
    figures.digitalSilenceSeconds > 0
      ? { code: 'digital-silence', message: `${figures.digitalSilenceSeconds.toFixed(2)} s of exact zeros.` }
      : undefined,
  ({ activity }) => {
    const edge = upperEdgeHz(activity);
    return edge === undefined
      ? undefined
      : {
          code: 'band-limited',
          message: `Nothing is left of the voice above ${(edge / 1000).toFixed(1)} kHz, as on a telephone line.`,
        };
  },
  ({ activity }) => {
    const levels = activity.speechLevels.map(({ levelDb }) => levelDb).sort((a, b) => a - b);
    if (levels.length < 8) return undefined;
    const at = (share: number) => levels[Math.round((levels.length - 1) * share)];
    const spread = at(0.9) - at(0.1);
    return spread > 9
      ? {
          code: 'uneven-level',
          message: `Speech differs by ${db(spread)} dB between its quieter and louder parts, second by second.`,
        }
      : undefined;
  },
  ({ figures }) => {
    const tones = figures.roomTone.filter((tone) => tone.confidence >= 0.4);
    if (tones.length < 2) return undefined;
    const levels = tones.map((tone) => tone.rmsDbfs);
    const change = Math.max(...levels) - Math.min(...levels);
    return change > 6
      ? { code: 'floor-changes', message: `The room's own sound changes by ${db(change)} dB within the recording.` }
      : undefined;
  },
  ({ badSamples }) =>
    badSamples
      ? {
          code: 'bad-samples',
          message: `${badSamples} samples are not numbers or infinite; they were taken as silence.`,
        }
      : undefined,
];

export const judgeWarnings = (evidence: Evidence): Warning[] =>
  RULES.map((rule) => rule(evidence)).filter((warning) => warning !== undefined);
