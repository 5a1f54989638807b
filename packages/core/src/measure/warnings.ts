import type { ActivityFigures } from './activity/activity.ts';
import type { Complaint, ComplaintCode } from './complaints/complaint.ts';
import type { SoundFigures, Warning, WarningCode } from './measurement.ts';

/** What a warning needs besides the figures. */
export interface Evidence {
  figures: Omit<SoundFigures, 'warnings' | 'complaints'>;
  complaints: readonly Complaint[];
  activity: ActivityFigures;
  channelMeanSquares: readonly number[];
  badSamples: number;
}

type Rule = (evidence: Evidence) => Warning | undefined;

const db = (value: number) => value.toFixed(1).replace('-', '\u2212');

/** A warning that says in a sentence what a complaint says in figures: where the one is, the other is. */
const ofComplaint =
  (code: ComplaintCode & WarningCode, sentence: (amount: number, evidence: Evidence) => string): Rule =>
  (evidence) => {
    const complaint = evidence.complaints.find((one) => one.code === code);
    return complaint && { code, message: sentence(complaint.amount, evidence) };
  };

/** Each rule looks at the evidence and says its sentence, or nothing. */
const RULES: readonly Rule[] = [
  ofComplaint('one-sided', (amount, { channelMeanSquares: [left, right] }) => {
    const side = left > right ? 'left' : 'right';
    return `The sound is on the ${side} only: the other channel is ${db(amount)} dB lower.`;
  }),
  ofComplaint(
    'polarity',
    (amount) => `Left and right cancel in mono (correlation ${amount.toFixed(2)}): one side's polarity is flipped.`,
  ),
  ofComplaint('clipped', (_, { figures: { clippedRuns } }) => {
    const runs = `${clippedRuns} ${clippedRuns === 1 ? 'run' : 'runs'}`;
    return `${runs} of samples flat at a ceiling: the recording is clipped there.`;
  }),
  ofComplaint('dc-offset', (amount) => `The waveform is off centre by ${amount.toFixed(2)} % of full scale.`),
  ofComplaint('too-quiet', (amount) => `Very quiet: ${db(amount)} LUFS. Raising it raises its noise as well.`),
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
  ofComplaint(
    'band-limited',
    (hz) => `Nothing is left of the voice above ${(hz / 1000).toFixed(1)} kHz, as on a telephone line.`,
  ),
  ofComplaint(
    'uneven-level',
    (amount) => `Speech differs by ${db(amount)} dB between its quieter and louder parts, second by second.`,
  ),
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
