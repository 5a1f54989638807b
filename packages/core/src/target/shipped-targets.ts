import type { Limit, OutputFormat, TargetFile } from './target-file.ts';

const window = (measure: Limit['measure'], min: number | null, max: number | null, aim?: number): Limit => ({
  measure,
  min,
  max,
  ...(aim === undefined ? {} : { aim }),
  required: true,
});
const loudness = (aim: number, tolerance: number): Limit =>
  window('integratedLufs', aim - tolerance, aim + tolerance, aim);
const truePeak = (max: number): Limit => window('truePeakDbtp', null, max);
const advisory = (limit: Limit): Limit => ({ ...limit, required: false });

const mp3 = (bitrateKbps: number, channels: 1 | 2): OutputFormat => ({
  container: 'mp3',
  sampleRateHz: 44100,
  channels,
  bitrateKbps,
});
const broadcastWav: OutputFormat = { container: 'wav', sampleRateHz: 48000, channels: null, bitDepth: 24 };
const target = (name: string, limits: Limit[], output: OutputFormat, notes = ''): TargetFile => ({
  format: 'tonos.target/1',
  name,
  notes,
  limits,
  output,
});

/** The targets that ship, read-only. Figures of EBU R 128, ATSC A/85, AES TD1008 and of the trade's usual deliveries. */
export const SHIPPED_TARGETS: readonly TargetFile[] = [
  target(
    'Podcast, stereo',
    [loudness(-16, 1), truePeak(-1), advisory(window('loudnessRangeLu', null, 12))],
    mp3(128, 2),
  ),
  target('Podcast, mono', [loudness(-19, 1), truePeak(-1)], mp3(64, 1)),
  target('Podcast, small file', [loudness(-16, 1), truePeak(-1)], {
    container: 'opus',
    sampleRateHz: 48000,
    channels: null,
    bitrateKbps: 48,
  }),
  target(
    'Audiobook, RMS window',
    [
      window('rmsDbfs', -23, -18, -20),
      window('samplePeakDbfs', null, -3),
      window('noiseFloorDbfs', null, -60),
      window('headSilenceSeconds', 0.5, 1),
      window('tailSilenceSeconds', 1, 5),
      window('durationSeconds', null, 7200),
    ],
    mp3(192, 1),
    'Head and tail are room tone. The same channel count in the whole title.',
  ),
  target(
    'Audiobook, loudness',
    [loudness(-20, 2), truePeak(-3), window('noiseFloorDbfs', null, -60), advisory(window('loudnessRangeLu', null, 9))],
    mp3(192, 1),
  ),
  target('Broadcast, EBU R 128', [loudness(-23, 0.5), truePeak(-1)], broadcastWav),
  target(
    'Broadcast, EBU R 128 s1 short form',
    [loudness(-23, 0.5), window('maxShortTermLufs', null, -18), truePeak(-1)],
    broadcastWav,
  ),
  target('Broadcast, ATSC A/85', [loudness(-24, 2), truePeak(-2)], broadcastWav),
  target('Streaming speech, AES TD1008', [loudness(-18, 1), truePeak(-1)], {
    container: 'flac',
    sampleRateHz: 48000,
    channels: null,
    bitDepth: 24,
  }),
  target('Archive master', [truePeak(-1), window('clippedRuns', null, 0)], {
    container: 'flac',
    sampleRateHz: null,
    channels: null,
    bitDepth: 24,
  }),
];
