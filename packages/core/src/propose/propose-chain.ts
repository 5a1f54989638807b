import type { StepAdjustment } from '../chain/adjustments.ts';
import type { ChainFile, ChainStep } from '../chain/chain-file.ts';
import type { Complaint, ComplaintCode } from '../measure/complaints/complaint.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { figure } from '../signal/figures.ts';
import { stepOfKind } from '../steps/index.ts';
import { aimOf, levelAimedFor } from '../target/aim.ts';
import type { TargetFile } from '../target/target-file.ts';
import { ceilingUnder } from './limiter-ceiling.ts';

/**
 * From recordings and a target one chain that suits them together, in the usual order: repair, which must see the wave as it was recorded, then
 * what lies low, noise, level, tone, dynamics, loudness and limiter. A step is there where a recording needs it; its settings are those that most of them need, and the others get adjustments.
 */
export interface Proposal {
  /** Each step's note says why it is there. */
  chain: ChainFile;
  /** What single recordings need otherwise, in the order that they were given. */
  adjustments: StepAdjustment[][];
}

type Settings = Record<string, string | number>;

/** What one recording needs of one step; undefined where nothing. */
interface Need {
  settings: Settings;
  /** In words: "hum of 50 Hz, 18 dB over the floor". */
  because: string;
}

interface Candidate {
  id: string;
  kind: string;
  /** A step that finds nothing to do in a recording may stay on for it. */
  idles: boolean;
  need(sound: SoundFigures, target: TargetFile): Need | undefined;
}

/** No more noise reduction than this sounds well. */
export const MOST_REDUCTION_DB = 24;
/** The floor is brought so far under its limit. */
const FLOOR_MARGIN_DB = 3;
/** More than this the limiter should not have to do. */
const MOST_LIMITING_DB = 6;
const IN_DECIBELS = /(Db|Dbfs|Dbtp|Lufs)$/;
/** Settings that differ by less than this are the same to the ear. */
const ALIKE_DB = 3;

const complaintOf = ({ complaints }: SoundFigures, code: ComplaintCode): Complaint | undefined =>
  complaints.find((one) => one.code === code);

/** The remedy of a complaint, as it is. */
const byComplaint =
  (code: ComplaintCode, because: (complaint: Complaint) => string) =>
  (sound: SoundFigures): Need | undefined => {
    const complaint = complaintOf(sound, code);
    return complaint?.remedy ? { settings: complaint.remedy.settings, because: because(complaint) } : undefined;
  };

const first =
  (...needs: ((sound: SoundFigures, target: TargetFile) => Need | undefined)[]) =>
  (sound: SoundFigures, target: TargetFile): Need | undefined => {
    for (const need of needs) {
      const found = need(sound, target);
      if (found) return found;
    }
    return undefined;
  };

const gainFor = (sound: SoundFigures, target: TargetFile): number => {
  const [aim, level] = [aimOf(target.limits), levelAimedFor(target, sound)];
  return aim && level !== null ? aim.aim - level : 0;
};

/** Noise that is heard, or that the target's own gain would lift over its limit. */
function noiseNeed(sound: SoundFigures, target: TargetFile): Need | undefined {
  const complaint = complaintOf(sound, 'steady-noise');
  const limit = target.limits.find(({ measure }) => measure === 'noiseFloorDbfs')?.max;
  const { noiseFloorDbfs } = sound;
  const gain = gainFor(sound, target);
  const over = limit !== null && limit !== undefined && noiseFloorDbfs !== null ? noiseFloorDbfs + gain - limit : -100;
  const wanted = Math.max(Number(complaint?.remedy?.settings.reductionDb ?? 0), over > -1 ? over + FLOOR_MARGIN_DB : 0);
  if (wanted <= 0) return undefined;
  const because =
    over > -1
      ? `a floor of ${figure(noiseFloorDbfs!)} dBFS and ${figure(gain)} dB of gain, for a limit of ${figure(limit!)}`
      : `steady noise of ${figure(complaint!.amount)} dBFS`;
  return { settings: { reductionDb: Math.min(MOST_REDUCTION_DB, Math.max(6, Math.ceil(wanted))) }, because };
}

/** Peaks that the limiter alone would have to take down by much. */
function dynamicsNeed(sound: SoundFigures, target: TargetFile): Need | undefined {
  const peak = target.limits.find(
    ({ measure, max }) => max !== null && (measure === 'truePeakDbtp' || measure === 'samplePeakDbfs'),
  );
  const level = sound.integratedLufs;
  if (!peak || sound.truePeakDbtp === null || level === null) return undefined;
  const limiting = sound.truePeakDbtp + gainFor(sound, target) - peak.max!;
  if (limiting <= MOST_LIMITING_DB) return undefined;
  const settings = { thresholdDb: Math.max(-60, Math.min(0, Math.round(level - 2))), ratio: 3, attackMs: 5 };
  return { settings, because: `peaks that the limiter would have to take down by ${figure(limiting)} dB` };
}

function rangeNeed(sound: SoundFigures, target: TargetFile): Need | undefined {
  const limit = target.limits.find(({ measure }) => measure === 'loudnessRangeLu')?.max;
  if (limit === null || limit === undefined || sound.loudnessRangeLu === null || sound.loudnessRangeLu <= limit)
    return undefined;
  return { settings: {}, because: `a range of ${figure(sound.loudnessRangeLu)} LU, for a limit of ${figure(limit)}` };
}

function loudnessNeed(sound: SoundFigures, target: TargetFile): Need | undefined {
  const aim = aimOf(target.limits);
  const gain = gainFor(sound, target);
  if (!aim || Math.abs(gain) < 1) return undefined;
  return {
    settings: { [aim.measure]: aim.aim },
    because: `${figure(Math.abs(gain))} dB ${gain > 0 ? 'under' : 'over'} the level aimed for`,
  };
}

function peakNeed(sound: SoundFigures, target: TargetFile): Need | undefined {
  const peaks = target.limits.flatMap(({ measure, max }) =>
    max !== null && (measure === 'truePeakDbtp' || measure === 'samplePeakDbfs') ? [max] : [],
  );
  if (!peaks.length || sound.truePeakDbtp === null) return undefined;
  const ceiling = Math.min(...peaks);
  const over = sound.truePeakDbtp + gainFor(sound, target) - ceiling;
  if (over <= 0) return undefined;
  return {
    settings: { ceilingDbtp: Math.max(-20, ceilingUnder(ceiling, target.output)) },
    because: `peaks ${figure(over)} dB over the limit at that level`,
  };
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

const perMinute = ({ amount }: Complaint): string => `${figure(amount)} a minute`;

/** Every step that may be proposed, in order. Two of one kind lie in different places. */
const candidates = (target: TargetFile): Candidate[] => {
  const aimed = aimOf(target.limits)?.measure;
  return [
    {
      id: 'centre',
      kind: 'dc-removal',
      idles: true,
      need: byComplaint('dc-offset', ({ amount }) => `off centre by ${figure(amount, 2)} %`),
    },
    {
      id: 'sides',
      kind: 'channels',
      idles: true,
      need: first(
        byComplaint('one-sided', ({ amount }) => `one side ${figure(amount)} dB under the other`),
        byComplaint('polarity', () => 'one side with its polarity flipped'),
      ),
    },
    {
      id: 'peaks',
      kind: 'declip',
      idles: true,
      need: byComplaint('clipped', (one) => `flat tops, ${perMinute(one)} samples`),
    },
    {
      id: 'clicks',
      kind: 'declick',
      idles: true,
      need: (sound) => {
        const found = (['mouth-clicks', 'digital-clicks'] as const).flatMap((code) => complaintOf(sound, code) ?? []);
        if (!found.length) return undefined;
        const kinds = found.map(({ code }) => (code === 'mouth-clicks' ? 'mouth' : 'digital'));
        const because = found.map((one, i) => `${kinds[i]} clicks, ${perMinute(one)}`).join(', ');
        return { settings: { clicks: kinds.length > 1 ? 'both' : kinds[0] }, because };
      },
    },
    {
      id: 'hum',
      kind: 'hum-removal',
      idles: true,
      need: byComplaint(
        'hum',
        ({ amount, remedy }) => `hum of ${remedy!.settings.mainsHz} Hz, ${figure(amount)} dB over the floor`,
      ),
    },
    {
      id: 'low',
      kind: 'high-pass',
      idles: false,
      need: byComplaint('rumble', ({ amount }) => `rumble ${figure(-amount)} dB under the voice`),
    },
    {
      id: 'noise',
      kind: 'noise-reduction',
      idles: false,
      need: first(
        noiseNeed,
        byComplaint('noise-change', ({ amount }) => `a room that changes by ${figure(amount)} dB`),
      ),
    },
    {
      id: 'pops',
      kind: 'plosive-removal',
      idles: true,
      need: byComplaint('plosives', (one) => `plosives, ${perMinute(one)}`),
    },
    {
      id: 'even',
      kind: 'leveller',
      idles: false,
      need: first(
        byComplaint('uneven-level', ({ amount }) => `speech that differs by ${figure(amount)} dB`),
        rangeNeed,
      ),
    },
    {
      id: 'sharp',
      kind: 'de-esser',
      idles: false,
      need: byComplaint('sibilance', ({ amount }) => `s sounds ${figure(amount)} dB over the voice`),
    },
    { id: 'dense', kind: 'compressor', idles: false, need: dynamicsNeed },
    {
      id: 'loud',
      kind: aimed === 'rmsDbfs' ? 'rms-normalise' : 'loudness-normalise',
      idles: false,
      need: loudnessNeed,
    },
    { id: 'limit', kind: 'limiter', idles: true, need: peakNeed },
  ];
};

export function proposeChain(
  recordings: readonly SoundFigures[],
  target: TargetFile,
  name = `Proposed for ${target.name}`,
): Proposal {
  const steps: ChainStep[] = [];
  const adjustments: StepAdjustment[][] = recordings.map(() => []);
  for (const { id, kind, idles, need } of candidates(target)) {
    const needs = recordings.map((sound) => need(sound, target));
    const wanted = needs.filter((one) => one !== undefined);
    if (!wanted.length) continue;
    const shared = commonOf(wanted.map(({ settings }) => settings));
    const usual = wanted.find(({ settings }) => isAlike(settings, shared)) ?? wanted[0];
    const reach = recordings.length > 1 ? `, in ${wanted.length} of ${recordings.length}` : '';
    steps.push({ id, kind, on: true, mix: 1, settings: shared, note: `${capital(usual.because)}${reach}.` });
    needs.forEach((one, i) => {
      // level and limiter stay on for all: what lies right already is hardly moved
      if (!one && !idles && !stepOfKind(kind)?.traits?.setsLevel) adjustments[i].push({ id, on: false, settings: {} });
      if (one && !isAlike(one.settings, shared)) adjustments[i].push({ id, settings: one.settings });
    });
  }
  return {
    chain: { format: 'tonos.chain/1', name: name.slice(0, 200), tags: ['proposed'], notes: '', steps },
    adjustments,
  };
}

/** Of numbers the middle one, of words the most frequent. */
function commonOf(all: readonly Settings[]): Settings {
  const keys = [...new Set(all.flatMap((settings) => Object.keys(settings)))];
  return Object.fromEntries(
    keys.map((key) => {
      const values = all.flatMap((settings) => (key in settings ? [settings[key]] : []));
      const sorted = [...values].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
      const middle = sorted[sorted.length >> 1];
      const count = (value: string | number) => values.filter((one) => one === value).length;
      // both kinds of clicks together are everybody's
      if (key === 'clicks' && new Set(values).size > 1) return [key, 'both'];
      return [key, typeof middle === 'number' ? middle : values.reduce((a, b) => (count(b) > count(a) ? b : a))];
    }),
  );
}

function isAlike(own: Settings, shared: Settings): boolean {
  return Object.entries(own).every(([key, value]) => {
    const other = shared[key];
    if (typeof value !== 'number' || typeof other !== 'number') return value === other || other === 'both';
    return IN_DECIBELS.test(key) ? Math.abs(value - other) < ALIKE_DB : value <= other * 1.2 && value >= other / 1.2;
  });
}
