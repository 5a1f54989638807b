import { median, quantile } from '../../dsp/quantile.ts';
import { dbToPower, powerToDb } from '../../signal/decibels.ts';
import type { ActivityFigures } from '../activity/activity.ts';
import { upperEdgeHz } from '../band-limit.ts';
import type { SoundFigures } from '../measurement.ts';
import {
  COMPLAINTS,
  type Complaint,
  type ComplaintCode,
  type ComplaintPlace,
  MOST_PLACES,
  SEVERITIES,
  type Severity,
} from './complaint.ts';
import type { Heard } from './complaint-meter.ts';

export interface ComplaintEvidence {
  figures: Omit<SoundFigures, 'warnings' | 'complaints'>;
  activity: ActivityFigures;
  heard: Heard;
  channelMeanSquares: readonly number[];
  clippedSamples: number;
  clippedSeconds: readonly number[];
}

type Found = Pick<Complaint, 'code' | 'amount'> &
  Partial<Pick<Complaint, 'places' | 'remedy' | 'confidence'>> & {
    /** Where more is worse: from how much on it is slight, clear, severe. Below the first nothing is said. */
    steps: readonly [slight: number, clear: number, severe: number];
    /** What is held against the steps, where it is not the amount. */
    weight?: number;
  };

/** Each rule says what it found, worse or not so bad; a clean voice has nothing. */
const RULES: readonly ((evidence: ComplaintEvidence) => Found | undefined)[] = [
  hum,
  rumble,
  steadyNoise,
  noiseChange,
  mouthClicks,
  digitalClicks,
  plosives,
  sibilance,
  clipped,
  unevenLevel,
  roomy,
  oneSided,
  polarity,
  dcOffset,
  bandLimited,
  tooQuiet,
];

/** Worst first. */
export function judgeComplaints(evidence: ComplaintEvidence): Complaint[] {
  return RULES.flatMap((rule) => {
    const found = rule(evidence);
    const severity = found && severityOf(found);
    return severity ? [complaintOf(found, severity)] : [];
  }).sort((a, b) => SEVERITIES.indexOf(b.severity) - SEVERITIES.indexOf(a.severity) || b.confidence - a.confidence);
}

function severityOf({ amount, weight = amount, steps: [slight, clear, severe] }: Found): Severity | undefined {
  if (weight < slight) return undefined;
  return weight >= severe ? 'severe' : weight >= clear ? 'clear' : 'slight';
}

function complaintOf(
  { code, amount, places = [], remedy = null, confidence, weight = amount, steps }: Found,
  severity: Severity,
): Complaint {
  // just over its least it may be chance; well over it is not
  const sure = confidence ?? 0.6 + 0.4 * Math.min(1, (weight - steps[0]) / Math.max(1e-9, steps[1] - steps[0]));
  const kept = places.slice(0, MOST_PLACES).map(roundedPlace);
  return {
    code,
    severity,
    amount: rounded(amount, 2),
    unit: COMPLAINTS[code as ComplaintCode].unit,
    confidence: rounded(sure, 2),
    places: kept,
    ...(places.length > MOST_PLACES && { morePlaces: places.length - MOST_PLACES }),
    remedy,
  };
}

const rounded = (value: number, decimals: number): number => Number(value.toFixed(decimals));
const roundedPlace = ({ startSeconds, endSeconds, ...rest }: ComplaintPlace): ComplaintPlace => ({
  startSeconds: rounded(startSeconds, 3),
  endSeconds: rounded(endSeconds, 3),
  ...rest,
});

/** What lies low is a part of the room's level from here on. */
const LOW_PART_DB = 12;

const whole = ({ durationSeconds }: { durationSeconds: number }): ComplaintPlace => ({
  startSeconds: 0,
  endSeconds: durationSeconds,
});
const step = (kind: string, settings: Record<string, string | number> = {}) => ({ kind, settings });

/** Level of speech in dBFS: the middle of its seconds; undefined where nobody speaks. */
function speechDb({ speechLevels }: ActivityFigures): number | undefined {
  return median(speechLevels.map(({ levelDb }) => levelDb));
}

/** Level of the room, over its tones, without a constant offset. */
function roomDb({ roomTone, offsets }: ActivityFigures): number | undefined {
  const offset = offsets.reduce((sum, one) => sum + one * one, 0) / Math.max(1, offsets.length);
  const sure = roomTone.filter(({ confidence }) => confidence >= 0.3);
  return median(sure.map(({ rmsDbfs }) => powerToDb(Math.max(1e-14, dbToPower(rmsDbfs) - offset))));
}

function hum({ figures, heard }: ComplaintEvidence): Found | undefined {
  if (!heard.hum) return undefined;
  const { lines, mainsHz } = heard.hum;
  const strongest = lines.reduce((a, b) => (b.excessDb > a.excessDb ? b : a));
  const [low, high] = [lines[0], lines[lines.length - 1]];
  return {
    code: 'hum',
    amount: strongest.excessDb,
    steps: [10, 18, 30],
    confidence: Math.min(1, 0.6 + 0.1 * lines.length),
    places: [{ ...whole(figures), lowHz: Math.round(low.hz), highHz: Math.round(high.hz) }],
    remedy: step('hum-removal', { mainsHz: mainsHz < 55 ? 50 : 60, harmonics: Math.max(12, high.harmonic) }),
  };
}

function rumble({ figures, activity, heard }: ComplaintEvidence): Found | undefined {
  const speech = speechDb(activity);
  // where the mains hums, what lies low is its own first line
  const humsLow = heard.hum?.lines.some(({ harmonic }) => harmonic === 1);
  if (speech === undefined || heard.lowDb === undefined || humsLow || heard.lowDb < -70) return undefined;
  return {
    code: 'rumble',
    amount: heard.lowDb - speech,
    steps: [-28, -20, -12],
    places: [{ ...whole(figures), lowHz: 0, highHz: 80 }],
    remedy: step('high-pass', { frequencyHz: 80 }),
  };
}

function steadyNoise({ figures, activity, heard }: ComplaintEvidence): Found | undefined {
  const roomLevel = roomDb(activity);
  if (roomLevel === undefined) return undefined;
  // what hums or rumbles is told as that, and counts no second time
  if (heard.hum?.lines.some(({ excessDb }) => excessDb > 25)) return undefined;
  const rumbles = (heard.lowDb ?? Number.NEGATIVE_INFINITY) > roomLevel - LOW_PART_DB;
  const room = rumbles ? Math.min(roomLevel, activity.roomAboveDb ?? roomLevel) : roomLevel;
  const wanted = Math.round(Math.min(24, Math.max(6, room + 64)));
  return {
    code: 'steady-noise',
    amount: room,
    steps: [-57, -50, -40],
    places: [whole(figures)],
    remedy: step('noise-reduction', { reductionDb: wanted }),
  };
}

function noiseChange({ figures, activity: { roomChange } }: ComplaintEvidence): Found | undefined {
  if (!roomChange) return undefined;
  return {
    code: 'noise-change',
    amount: Math.abs(roomChange.byDb),
    steps: [6, 10, 18],
    places: [{ startSeconds: roomChange.seconds, endSeconds: figures.durationSeconds }],
    remedy: step('noise-reduction', { method: 'adaptive' }),
  };
}

/** So many a minute, where there are so many at all. */
function perMinute(
  code: ComplaintCode,
  { count, places }: { count: number; places: ComplaintPlace[] },
  { durationSeconds }: { durationSeconds: number },
  steps: Found['steps'],
  remedy: Complaint['remedy'],
): Found | undefined {
  if (!count) return undefined;
  return { code, amount: (60 * count) / Math.max(1, durationSeconds), steps, places, remedy };
}

function mouthClicks({ figures, heard }: ComplaintEvidence): Found | undefined {
  return perMinute('mouth-clicks', heard.mouthClicks, figures, [0, 6, 20], step('declick', { clicks: 'mouth' }));
}

function digitalClicks({ figures, heard }: ComplaintEvidence): Found | undefined {
  return perMinute('digital-clicks', heard.digitalClicks, figures, [0, 4, 20], step('declick', { clicks: 'digital' }));
}

function plosives({ figures, heard: { thumps } }: ComplaintEvidence): Found | undefined {
  const places = thumps.map((span) => ({ ...span, lowHz: 20, highHz: 160 }));
  return perMinute('plosives', { count: places.length, places }, figures, [1.5, 5, 15], step('plosive-removal'));
}

function sibilance({ activity: { sibilanceDb, sharpest } }: ComplaintEvidence): Found | undefined {
  if (sibilanceDb === undefined) return undefined;
  return {
    code: 'sibilance',
    amount: sibilanceDb,
    steps: [15, 19, 25],
    places: sharpest.map((span) => ({ ...span, lowHz: 5000, highHz: 10000 })),
    remedy: step('de-esser'),
  };
}

function clipped({ figures, clippedSamples, clippedSeconds }: ComplaintEvidence): Found | undefined {
  if (!figures.clippedRuns) return undefined;
  const places: ComplaintPlace[] = [];
  for (const at of [...clippedSeconds].sort((a, b) => a - b)) {
    const last = places.at(-1);
    if (last && at - last.endSeconds < 0.1) last.endSeconds = at + 0.001;
    else places.push({ startSeconds: Math.max(0, at - 0.001), endSeconds: at + 0.001 });
  }
  const amount = (60 * clippedSamples) / Math.max(1, figures.durationSeconds);
  return { code: 'clipped', amount, steps: [0, 60, 1000], places, remedy: step('declip') };
}

function unevenLevel({ activity: { speechLevels } }: ComplaintEvidence): Found | undefined {
  if (speechLevels.length < 8) return undefined;
  const levels = speechLevels.map(({ levelDb }) => levelDb);
  const [low, high] = [quantile(levels, 0.1)!, quantile(levels, 0.9)!];
  const middle = (low + high) / 2;
  const places: ComplaintPlace[] = [];
  for (const { startSeconds, endSeconds, levelDb } of speechLevels) {
    if (levelDb > middle) continue;
    const last = places.at(-1);
    if (last && startSeconds - last.endSeconds < 0.5) last.endSeconds = endSeconds;
    else places.push({ startSeconds, endSeconds });
  }
  return { code: 'uneven-level', amount: high - low, steps: [9, 12, 18], places, remedy: step('leveller') };
}

function roomy({ figures, activity: { decaySeconds } }: ComplaintEvidence): Found | undefined {
  if (decaySeconds === undefined) return undefined;
  return { code: 'roomy', amount: decaySeconds, steps: [0.52, 0.75, 1.2], places: [whole(figures)] };
}

function oneSided({ figures, channelMeanSquares }: ComplaintEvidence): Found | undefined {
  if (channelMeanSquares.length !== 2) return undefined;
  const [left, right] = channelMeanSquares;
  const under = -powerToDb((Math.min(left, right) + 1e-14) / (Math.max(left, right) + 1e-14));
  return {
    code: 'one-sided',
    amount: under,
    steps: [20, 20, 40],
    places: [whole(figures)],
    remedy: step('channels', { mode: 'auto-mono' }),
  };
}

function polarity({ figures }: ComplaintEvidence): Found | undefined {
  const { channelCorrelation } = figures;
  if (channelCorrelation === null) return undefined;
  return {
    code: 'polarity',
    amount: channelCorrelation,
    weight: -channelCorrelation,
    steps: [0.5, 0.5, 0.9],
    places: [whole(figures)],
    remedy: step('channels', { mode: 'auto-mono' }),
  };
}

function dcOffset({ figures }: ComplaintEvidence): Found | undefined {
  const percent = 100 * figures.dcOffset;
  return {
    code: 'dc-offset',
    amount: percent,
    weight: Math.abs(percent),
    steps: [0.1, 0.5, 3],
    places: [whole(figures)],
    remedy: step('dc-removal'),
  };
}

function bandLimited({ figures, activity }: ComplaintEvidence): Found | undefined {
  const hz = upperEdgeHz(activity);
  if (hz === undefined) return undefined;
  return {
    code: 'band-limited',
    amount: hz,
    weight: 20000 - hz,
    steps: [0, 14000, 16500],
    confidence: 0.9,
    places: [{ ...whole(figures), lowHz: hz, highHz: 20000 }],
  };
}

function tooQuiet({ figures }: ComplaintEvidence): Found | undefined {
  const { integratedLufs } = figures;
  if (integratedLufs === null) return undefined;
  return {
    code: 'too-quiet',
    amount: integratedLufs,
    weight: -integratedLufs,
    steps: [40, 46, 54],
    places: [whole(figures)],
    remedy: step('loudness-normalise', { integratedLufs: -23 }),
  };
}
