import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { RunItemEntity } from './run-entity.ts';

/** How an item came out: all that a render leaves, and what people said of it. */
export type Outcome = Pick<
  RunItemEntity,
  | 'status'
  | 'after'
  | 'limits'
  | 'findings'
  | 'timeMap'
  | 'parts'
  | 'chapters'
  | 'overview'
  | 'recipe'
  | 'accepted'
  | 'outputSha256'
  | 'outputBytes'
  | 'seconds'
  | 'machine'
>;

/** An earlier outcome of an item, kept when it was rendered again. */
@Entity('run_attempt')
export class RunAttemptEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  itemId!: string;

  @Column({ type: 'text' })
  keptAt!: string;

  /** Apart from the rest, so that the account of the store finds it. */
  @Column({ type: 'text' })
  outputSha256!: string;

  /** Its file was cleared; the recipe makes it again. */
  @Column({ type: 'boolean' })
  cleared!: boolean;

  @Column({ type: 'simple-json' })
  outcome!: Outcome;
}
