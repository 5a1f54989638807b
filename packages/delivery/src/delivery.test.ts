import type { Measurement } from '@tonos/core';
import { chaptersJson, cueSheet } from './chapters.ts';
import type { DeliveryReport } from './report.ts';
import { reportCsv } from './report-csv.ts';
import { reportPdf } from './report-pdf.ts';

const CHAPTERS = [
  { title: 'The "Quay"', startSeconds: 61.5 },
  { title: 'Opening', startSeconds: 0 },
];

it('writes chapters as JSON, in order, each to the next or the end', () => {
  expect(JSON.parse(chaptersJson(CHAPTERS, 100.25))).toEqual({
    version: '1.2.0',
    chapters: [
      { startTime: 0, endTime: 61.5, title: 'Opening' },
      { startTime: 61.5, endTime: 100.25, title: 'The "Quay"' },
    ],
  });
});

it('writes a cue sheet in frames of a 75th of a second', () => {
  const sheet = cueSheet({ fileName: 'a.mp3', title: 'Low Water', performer: 'Ada' }, CHAPTERS, 100);
  expect(sheet.split('\r\n')).toEqual([
    'PERFORMER "Ada"',
    'TITLE "Low Water"',
    'FILE "a.mp3" MP3',
    '  TRACK 01 AUDIO',
    '    TITLE "Opening"',
    '    INDEX 01 00:00:00',
    '  TRACK 02 AUDIO',
    '    TITLE "The \'Quay\'"',
    '    INDEX 01 01:01:38',
    '',
  ]);
});

const figures = {
  integratedLufs: -16.04,
  truePeakDbtp: -1.2,
  complaints: [
    {
      code: 'hum',
      severity: 'clear',
      amount: 18.24,
      unit: 'dB',
      confidence: 1,
      places: [],
      remedy: null,
    },
  ],
  noiseFloorDbfs: -61.5,
  durationSeconds: 12.34,
} as unknown as Measurement;
const item = {
  name: 'one, "two".wav',
  sourceSha256: 'aa',
  status: 'within',
  output: 'one.mp3',
  outputSha256: 'bb',
  before: null,
  after: figures,
  limits: [],
  accepted: null,
  error: null,
};
const report: DeliveryReport = {
  version: '1',
  title: 'Low Water',
  chain: { name: 'Plain', revision: 2 },
  target: 'Podcast, mono',
  createdAt: '2026-01-02T03:04:05.000Z',
  items: [
    item,
    {
      ...item,
      name: '=HYPERLINK("x")',
      status: 'off-target',
      accepted: { reason: 'Agreed.', at: '2026-01-02' },
      limits: [{ measure: 'noiseFloorDbfs', min: null, max: -60, value: -58, result: 'over', by: 2, required: true }],
    },
    {
      ...item,
      name: 'gone.wav',
      status: 'failed',
      output: null,
      outputSha256: null,
      after: null,
      error: { message: 'It is no sound.' },
    },
  ],
};

it('writes a table that a spreadsheet reads as text and numbers, and never as a formula', () => {
  const [head, one, two, three] = reportCsv(report).trim().split('\r\n');
  expect(head.split(',').slice(0, 3)).toEqual(['Recording', 'Verdict', 'Off target']);
  expect(head).toContain(',Complaints before,Complaints after,');
  expect(one).toMatch(/^"one, ""two""\.wav",within,,,one\.mp3,bb,aa,,"Hum, 18\.2 dB",/);
  expect(one).toContain(',-16.04,');
  expect(two).toMatch(/^"'=HYPERLINK\(""x""\)","off target, accepted",Noise floor over by 2,Agreed\.,/);
  expect(three).toMatch(/^gone\.wav,failed,,It is no sound\.,,,aa/);
});

it('makes a PDF of one page for a few items, and of several for many', async () => {
  const pages = (pdf: Buffer) => Number(/\/Count (\d+)/.exec(pdf.toString('latin1'))![1]);
  const few = await reportPdf(report);
  expect(few.subarray(0, 5).toString()).toBe('%PDF-');
  expect(pages(few)).toBe(1);
  const many = await reportPdf({ ...report, items: Array.from({ length: 200 }, () => item) });
  expect(pages(many)).toBeGreaterThan(5);
  expect(pages(await reportPdf({ ...report, items: [] }))).toBe(1);
});
