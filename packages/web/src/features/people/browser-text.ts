/** What a browser says of itself, in the words that somebody knows it by. */
export function browserText(agent: string): string {
  const [, program] = /(Firefox|Edg|Chrome|Safari)\//.exec(agent) ?? [];
  const names: Readonly<Record<string, string>> = { Edg: 'Edge' };
  const [, system] = /(Windows|Mac OS X|Android|iPhone|iPad|Linux)/.exec(agent) ?? [];
  const words = [program && (names[program] ?? program), system && `on ${system.replace('Mac OS X', 'macOS')}`];
  return words.filter(Boolean).join(' ') || agent.slice(0, 60) || 'unknown';
}
