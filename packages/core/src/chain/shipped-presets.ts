/** Settings of one step to start from, named by what they are for. */
export interface ShippedPreset {
  kind: string;
  name: string;
  tags: string[];
  settings: Record<string, unknown>;
}

type Sketch = [name: string, tags: string[], settings: Record<string, unknown>];

const of = (kind: string, ...sketches: Sketch[]): ShippedPreset[] =>
  sketches.map(([name, tags, settings]) => ({ kind, name, tags, settings }));

const bell = (frequencyHz: number, gainDb: number, q: number) => ({ shape: 'bell', frequencyHz, gainDb, q });
const highShelf = (frequencyHz: number, gainDb: number) => ({ shape: 'high-shelf', frequencyHz, gainDb, q: 0.7 });
const lowShelf = (frequencyHz: number, gainDb: number) => ({ shape: 'low-shelf', frequencyHz, gainDb, q: 0.7 });
const point = (frequencyHz: number, gainDb: number) => ({ frequencyHz, gainDb });

/** About three for each kind that has something to set; they are read-only, and copied by keeping one's own beside them. */
export const SHIPPED_PRESETS: readonly ShippedPreset[] = [
  ...of(
    'noise-reduction',
    ['Quiet booth, a touch', ['booth'], { reductionDb: 6, smoothing: 0.6 }],
    ['Home office with a fan', ['home'], { reductionDb: 14, marginDb: 4 }],
    ['Changing noise, followed', ['location'], { reductionDb: 10, method: 'adaptive', smoothing: 0.7 }],
  ),
  ...of(
    'neural-noise-reduction',
    ['Street behind a voice', ['location'], { strength: 0.9 }],
    ['Half of it', [], { strength: 0.5 }],
  ),
  ...of(
    'hum-removal',
    ['Faint hum, few harmonics', [], { harmonics: 5, depthDb: 25 }],
    ['Buzzing dimmer', [], { harmonics: 30, depthDb: 45 }],
  ),
  ...of(
    'declick',
    ['Lips and tongue', ['close microphone'], { sensitivity: 0.7 }],
    ['Digital ticks only', [], { sensitivity: 0.3 }],
  ),
  ...of(
    'plosive-removal',
    ['Close, no pop screen', ['close microphone'], { sensitivity: 0.7, frequencyHz: 180 }],
    ['Now and then', [], { sensitivity: 0.35, frequencyHz: 140 }],
  ),
  ...of('declip', ['Lightly over', [], { headroomDb: 3 }], ['Badly over', [], { headroomDb: 9 }]),
  ...of(
    'high-pass',
    ['Low voice, keep the chest', ['low voice'], { frequencyHz: 55, slopeDbPerOctave: 24 }],
    ['Light voice', ['light voice'], { frequencyHz: 100, slopeDbPerOctave: 24 }],
    ['Traffic and handling', ['location'], { frequencyHz: 110, slopeDbPerOctave: 48 }],
  ),
  ...of(
    'low-pass',
    ['Above speech', [], { frequencyHz: 16000, slopeDbPerOctave: 24 }],
    ['Like a telephone', [], { frequencyHz: 3400, slopeDbPerOctave: 36 }],
  ),
  ...of(
    'parametric-eq',
    ['Boxy room', ['small room'], { bands: [bell(380, -4, 1.4), bell(850, -1.5, 1.5)] }],
    ['Close and boomy', ['close microphone'], { bands: [lowShelf(180, -3.5), bell(260, -2, 1.2)] }],
    ['Clip-on microphone under cloth', ['clip-on'], { bands: [bell(700, -2.5, 1.2), highShelf(4500, 5)] }],
  ),
  ...of(
    'point-eq',
    ['Gentle smile', [], { points: [point(100, 1.5), point(500, 0), point(3000, 0), point(10000, 2)] }],
    ['Less middle', [], { points: [point(200, 0), point(600, -2.5), point(1500, -1), point(4000, 0)] }],
  ),
  ...of(
    'saturation',
    ['Just audible', [], { driveDb: 3, character: 'even' }],
    ['Firm', [], { driveDb: 9, character: 'odd' }],
  ),
  ...of(
    'expander',
    ['Calmer pauses', [], { thresholdDb: -48, ratio: 1.6, rangeDb: 8, releaseMs: 250 }],
    ['Two microphones, one talks', ['conversation'], { thresholdDb: -42, ratio: 3, rangeDb: 18, holdMs: 150 }],
    ['Close the door', [], { thresholdDb: -45, ratio: 8, rangeDb: 40 }],
  ),
  ...of(
    'de-esser',
    ['A little sharp', [], { frequencyHz: 6000, thresholdDb: -28, rangeDb: 5 }],
    ['Low, heavy esses', ['low voice'], { frequencyHz: 4200, thresholdDb: -32, rangeDb: 9 }],
    ['High, thin esses', ['light voice'], { frequencyHz: 7500, thresholdDb: -34, rangeDb: 10 }],
  ),
  ...of(
    'leveller',
    ['Two speakers, one microphone', ['conversation'], { shortTermLufs: -18, rangeDb: 14, speedSeconds: 1.5 }],
    ['Slow hand for narration', ['narration'], { shortTermLufs: -20, rangeDb: 5, speedSeconds: 5 }],
  ),
  ...of(
    'compressor',
    [
      'Narration, hardly noticed',
      ['narration'],
      { thresholdDb: -24, ratio: 2, kneeDb: 10, attackMs: 15, releaseMs: 160 },
    ],
    ['Conversation, dense', ['conversation'], { thresholdDb: -26, ratio: 4, attackMs: 6, releaseMs: 90 }],
    ['Catch the shouts', [], { thresholdDb: -12, ratio: 8, kneeDb: 3, attackMs: 1, releaseMs: 80, detector: 'peak' }],
  ),
  ...of(
    'multiband-compressor',
    [
      'Chest and presence held apart',
      [],
      {
        crossoversHz: [200, 3000],
        bands: [
          { thresholdDb: -28, ratio: 3 },
          { thresholdDb: -22, ratio: 2 },
          { thresholdDb: -30, ratio: 2.5, attackMs: 3 },
        ],
      },
    ],
    [
      'Only the low end',
      [],
      {
        crossoversHz: [160],
        bands: [
          { thresholdDb: -32, ratio: 4, attackMs: 20, releaseMs: 200 },
          { thresholdDb: 0, ratio: 1 },
        ],
      },
    ],
  ),
  ...of(
    'limiter',
    ['Last in the chain', [], { ceilingDbtp: -1, lookaheadMs: 5, releaseMs: 100 }],
    ['Audiobook peaks', ['audiobook'], { ceilingDbtp: -3.2, lookaheadMs: 5, releaseMs: 150 }],
    ['Loud and tight', ['podcast'], { ceilingDbtp: -1.5, lookaheadMs: 2, releaseMs: 40, inputGainDb: 4 }],
  ),
];
