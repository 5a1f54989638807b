/** What the bytes of a spectrogram mean: 0 is the bottom level and 255 the top one; rows go evenly in pitch. */
export const SPECTROGRAM = { bottomDb: -110, topDb: -20, lowestHz: 50, highestHz: 20000 } as const;

/** The frequency at a share of a spectrogram's height, from the bottom. */
export function spectrogramHz(share: number, sampleRateHz: number): number {
  const { lowestHz, highestHz } = SPECTROGRAM;
  return lowestHz * (Math.min(highestHz, sampleRateHz / 2) / lowestHz) ** share;
}
