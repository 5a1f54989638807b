import type { Presence, Whereabouts } from '@tonos/contract';
import type { EventBus } from '../events/event-bus.ts';
import type { Caller } from '../http/caller.ts';
import type { Surroundings } from '../surroundings.ts';
import type { People } from './people.ts';

/** Who has not been heard of for so long is gone: pages say every 20 s where they are. */
const GONE_MS = 45_000;

interface Seen extends Whereabouts {
  personId: string;
  since: string;
  heardMs: number;
}

/** Who looks at which title and chain now, for each open browser. It lies in memory: after a restart pages say it again. */
export class PresenceList {
  private readonly all = new Map<string, Seen>();

  constructor(
    private readonly people: People,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  say({ personId, credential }: Caller, { titleId, chainId }: Whereabouts): void {
    const key = credential?.id ?? personId;
    const before = this.all.get(key);
    const isSame = before?.titleId === titleId && before.chainId === chainId;
    const now = this.surroundings.now();
    const since = isSame ? before.since : now;
    this.all.set(key, { personId, titleId, chainId, since, heardMs: Date.parse(now) });
    const gone = this.sweep();
    if (!isSame || gone) this.bus.publish({ type: 'presence' });
  }

  /** Of others, as far as the caller may know of where they are. */
  list(caller: Caller): Presence[] {
    this.sweep();
    return [...this.all.values()]
      .filter(({ personId, titleId }) => personId !== caller.personId && (titleId === null || caller.sees(titleId)))
      .map(({ personId, titleId, chainId, since }) => ({
        person: this.people.refOf(personId),
        titleId,
        chainId,
        since,
      }));
  }

  private sweep(): boolean {
    const before = this.all.size;
    const now = Date.parse(this.surroundings.now());
    for (const [key, { heardMs, personId }] of this.all)
      if (now - heardMs > GONE_MS || !this.people.get(personId)) this.all.delete(key);
    return this.all.size < before;
  }
}
