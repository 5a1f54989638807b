/** How long work will still take at its pace so far; null where it is too early to tell. */
export function secondsLeft(startedMs: number, share: number, nowMs: number): number | null {
  const seconds = (nowMs - startedMs) / 1000;
  return share > 0.02 && seconds > 1 ? (seconds * (1 - share)) / share : null;
}
