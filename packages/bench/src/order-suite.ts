import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Suite, tonos, tonosWatched } from './suite.ts';

const ROUNDS = 3;
/** Beside the body and its bed: sounds with music under them. */
const PAIRS = 19;

/** A programme of three groups and forty parts, against a render of its body by itself. */
export function orderSuite({ path, seconds, folder }: { path: string; seconds: number; folder: string }): Suite {
  const source = (from: number, to: number) => ({ recording: path, startSeconds: from, endSeconds: to });
  const pairs = Array.from({ length: PAIRS }, (_, i) => {
    const at = ((i + 1) * seconds) / (PAIRS + 1);
    return [
      { id: `sound-${i}`, group: 'sounds', source: source(i, i + 5), begins: { with: 'body', offsetSeconds: at } },
      {
        id: `music-${i}`,
        group: 'music',
        source: source(i + 20, i + 30),
        begins: { with: `sound-${i}`, offsetSeconds: -1 },
        fadeInSeconds: 1,
        fadeOutSeconds: 2,
      },
    ];
  });
  const order = {
    format: 'tonos.order/1',
    name: 'Forty parts',
    groups: [{ id: 'voices' }, { id: 'music' }, { id: 'sounds' }],
    parts: [
      { id: 'body', group: 'voices', source: { recording: path } },
      {
        id: 'bed',
        group: 'music',
        source: source(10, 40),
        begins: { with: 'body', offsetSeconds: 2 },
        lasts: { untilEndOf: 'body', loop: true },
        level: { integratedLufs: -30 },
      },
      ...pairs.flat(),
    ],
    under: [{ group: 'music', of: ['voices'] }],
  };
  const orderPath = join(folder, 'forty.order.json');
  writeFileSync(orderPath, JSON.stringify(order));
  const chain = join(folder, 'nothing.chain.json');
  writeFileSync(chain, JSON.stringify({ format: 'tonos.chain/1', name: 'Nothing', steps: [] }));
  const peakFile = join(folder, 'order.peak');
  return {
    name: 'programme',
    work: `${seconds / 60} min of three groups and forty parts, WAV to WAV`,
    ours: {
      name: 'assemble',
      commands: [tonosWatched(peakFile, 'assemble', '--order', orderPath, '--out', join(folder, 'programme'))],
    },
    peer: {
      name: 'render of the body',
      commands: [tonos('render', '--chain', chain, '--out', join(folder, 'programme'), path)],
    },
    rounds: ROUNDS,
    peakFile,
  };
}
