const PROGRAMS = [
  ['Firefox', 'Firefox'],
  ['Edg', 'Edge'],
  ['Chrome', 'Chrome'],
  ['Safari', 'Safari'],
] as const;

/** What a browser says of itself, in the words that somebody knows it by. */
export function browserText(agent: string): string {
  // each says that it is the ones behind it too
  const program = PROGRAMS.find(([sign]) => agent.includes(`${sign}/`))?.[1];
  const [, system] = /(Windows|Mac OS X|Android|iPhone|iPad|Linux)/.exec(agent) ?? [];
  const words = [program, system && `on ${system.replace('Mac OS X', 'macOS')}`];
  return words.filter(Boolean).join(' ') || agent.slice(0, 60) || 'unknown';
}
