import type { EntityManager } from 'typeorm';
import type { StoredBlob } from '../storage/blob-store.ts';
import type { JobEnd } from '../workers/messages.ts';
import type { ClaimEntity } from './claim-entity.ts';
import type { Payload } from './payload.ts';

/** A file in the making whose hash is known. */
export interface HashedFile extends StoredBlob {
  path: string;
}

/** What came of one recording, on this machine: files in the making by their paths, a delivery that is in the store already by its hash. */
export interface Made {
  output?: string | HashedFile | StoredBlob;
  survey?: string;
  copy?: string;
}

/** How a job ended. */
export interface Ended {
  end: JobEnd;
  /** By member; none for those that failed. */
  made: readonly Made[];
  /** How long it took where it was done. */
  seconds: number;
}

/** What a claim holds, and what is to be done with it. */
export interface Held {
  subjectId: string;
  itemIds: string[];
  titleId: string;
  /** Missing where it can't be done, and says so already. */
  payload?: Payload;
}

/** Who has a claim, as it is written down beside what they make; null: this machine. */
export type MachineRef = { id: string; name: string } | null;

/** How the end of a job is written down. */
export interface Keeping {
  /** Within the transaction that ends the claim. */
  write(manager: EntityManager): Promise<void>;
  /** Once that stands. */
  written?(): void;
}

/** One kind of work over the database: what of it waits, and what becomes of it. */
export interface JobKind {
  readonly kind: Payload['kind'];
  /** Whether work of another kind can come up by its end. */
  readonly leadsOn: boolean;
  /** The id of what comes next; undefined where nothing waits. */
  next(manager: EntityManager): Promise<string | undefined>;
  /** Takes it, within a transaction, under the number of a claim. */
  hold(manager: EntityManager, id: string, fence: number, by: MachineRef): Promise<Held>;
  /** Whether anybody still wants what a claim works on. */
  isWanted(claim: ClaimEntity): Promise<boolean>;
  /** Puts what was made into the store. */
  keep(claim: ClaimEntity, payload: Payload, ended: Ended): Promise<Keeping>;
  /** Lets go of what a claim holds, within the transaction that ends it: it waits again. */
  release(manager: EntityManager, claim: ClaimEntity): Promise<void>;
  /** Lets go of what no claim holds. @param standing the numbers of those that still stand */
  recover(standing: readonly number[]): Promise<void>;
  /** How many pieces wait, counted to so many: what waits can be ten thousands. */
  waiting(most: number): Promise<number>;
  /** Tells whoever looks how far it is. */
  progress(claim: ClaimEntity, share: number, stage: string, secondsLeft: number | null): void;
  /** Tells whoever looks what has changed. */
  publish(claim: ClaimEntity): Promise<void>;
}
