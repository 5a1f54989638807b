import type { TrashKind } from '@tonos/contract';
import type { Use } from './storage-service.ts';

/** By which of its ids a use ends when something is thrown away; what is not named here has no files. */
const KEYS: Partial<Record<TrashKind, (use: Use) => string | undefined>> = {
  title: ({ titleId }) => titleId,
  run: ({ runId }) => runId,
  recording: ({ recordingId }) => recordingId,
  module: ({ moduleId }) => moduleId,
};

/** Who needs which file, found by what they belong to. */
export class UseIndex {
  private readonly byOwner = new Map<string, Use[]>();
  private readonly byFile = new Map<string, number>();

  constructor(uses: readonly Use[]) {
    for (const use of uses) {
      this.byFile.set(use.sha256, (this.byFile.get(use.sha256) ?? 0) + 1);
      for (const [kind, keyOf] of Object.entries(KEYS)) {
        const id = keyOf(use);
        if (id === undefined) continue;
        const owned = this.byOwner.get(`${kind} ${id}`);
        if (owned) owned.push(use);
        else this.byOwner.set(`${kind} ${id}`, [use]);
      }
    }
  }

  /** The uses that end with these. */
  of(kind: TrashKind, ids: readonly string[]): Use[] {
    return ids.flatMap((id) => this.byOwner.get(`${kind} ${id}`) ?? []);
  }

  /** The files that nothing needs once these uses end. */
  freedBy(uses: readonly Use[]): string[] {
    const own = new Map<string, number>();
    for (const { sha256 } of uses) own.set(sha256, (own.get(sha256) ?? 0) + 1);
    return [...own].flatMap(([sha256, count]) => (count === this.byFile.get(sha256) ? [sha256] : []));
  }
}
