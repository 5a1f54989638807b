import type { ProcessorModule } from '@tonos/contract';
import { plainFigure } from '@tonos/core';

type Manifest = ProcessorModule['manifest'];

/** A version as its numbers: 1.10 is newer than 1.9. */
function isNewer(a: string, b: string): number {
  const [left, right] = [a, b].map((text) => text.split('.').map(Number));
  for (let i = 0; i < Math.max(left.length, right.length); i++) {
    const difference = (right[i] ?? 0) - (left[i] ?? 0);
    if (difference) return difference;
  }
  return 0;
}

/** Modules of one name together, the newest version first. */
export const byName = (modules: readonly ProcessorModule[]): ProcessorModule[] =>
  [...modules].sort(
    (a, b) =>
      a.manifest.name.localeCompare(b.manifest.name) ||
      isNewer(a.manifest.version, b.manifest.version) ||
      b.createdAt.localeCompare(a.createdAt),
  );

/** What a module says of itself besides its settings, in words. */
export function saysText({ channels, latency, tail, findings }: Manifest): string {
  const { minimum, maximum } = channels;
  return [
    minimum === maximum ? `${minimum} ${minimum === 1 ? 'channel' : 'channels'}` : `${minimum} to ${maximum} channels`,
    spanText(latency) ? `${spanText(latency)} late` : 'no latency',
    ...(spanText(tail) ? [`sounds on for ${spanText(tail)}`] : []),
    ...(findings.length ? [`studies first: ${findings.map(({ title }) => title.toLowerCase()).join(', ')}`] : []),
  ].join('; ');
}

const spanText = ({ frames, milliseconds }: Manifest['latency']): string =>
  [frames && `${frames} ${frames === 1 ? 'frame' : 'frames'}`, milliseconds && `${plainFigure(milliseconds)} ms`]
    .filter(Boolean)
    .join(' and ');

/** Its settings and their ranges. */
export const settingsText = ({ settings }: Manifest): string[] =>
  Object.values(settings.properties).map((one) => {
    if (one.type === 'boolean') return `${one.title}, on or off`;
    if (one.type === 'string') return `${one.title}: ${one.enum.map((word) => one.labels[word] ?? word).join(', ')}`;
    return `${one.title} ${plainFigure(one.minimum)} to ${plainFigure(one.maximum)} ${one.unit}`.trimEnd();
  });
