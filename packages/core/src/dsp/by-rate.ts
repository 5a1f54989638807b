/** Filters and tables take longer to design than a short file takes to hear: those of a rate are made once a thread. */
export function byRate<Made>(make: (sampleRateHz: number) => Made): (sampleRateHz: number) => Made {
  const made = new Map<number, Made>();
  return (sampleRateHz) => {
    const known = made.get(sampleRateHz) ?? make(sampleRateHz);
    made.set(sampleRateHz, known);
    return known;
  };
}
