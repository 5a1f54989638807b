import { type CancelSignal, type Measurement, type MeasureOptions, measureSource } from '@tonos/core';
import { type AudioFile, openAudio } from '@tonos/formats';

/** Measures a file as it is: its facts, the figures of its sound, and what was found damaged. */
export async function measureFile(
  path: string,
  options: { name?: string; signal?: CancelSignal; progress?: (share: number) => void } = {},
): Promise<{ measurement: Measurement; overview: [number, number][] }> {
  const file = await openAudio(path, options.name);
  try {
    const { measurement, overview } = await measureAudio(file, { signal: options.signal, progress: options.progress });
    return { measurement, overview };
  } finally {
    await file.close();
  }
}

interface MeasureAudioOptions extends Pick<MeasureOptions, 'signal' | 'survey' | 'alongside'> {
  progress?: (share: number) => void;
}

/** Measures an open file. */
export async function measureAudio(file: AudioFile, { progress, ...options }: MeasureAudioOptions) {
  let heard = 0;
  const { figures, overview, survey } = await measureSource(file, {
    ...options,
    progress: (frames) => {
      heard += frames;
      progress?.(Math.min(1, heard / (file.frames ?? Number.POSITIVE_INFINITY)));
    },
  });
  const measurement: Measurement = { ...file.facts, ...figures, warnings: [...file.damage, ...figures.warnings] };
  return { measurement, overview, survey };
}
