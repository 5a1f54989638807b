import type { ChainStep, TimeMap } from '@tonos/core';
import type { Exchanged } from '@tonos/render';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('outing')
export class OutingEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  recordingId!: string;

  @Column({ type: 'text' })
  titleId!: string;

  @Column({ type: 'text', nullable: true })
  chainId!: string | null;

  @Column({ type: 'text', nullable: true })
  stepId!: string | null;

  @Column({ type: 'text', nullable: true })
  stepTitle!: string | null;

  /** Those that made what goes out, adjusted; none of a recording as it came. */
  @Column({ type: 'simple-json' })
  steps!: ChainStep[];

  @Column({ type: 'text' })
  fileName!: string;

  @Column({ type: 'text' })
  state!: 'making' | 'failed' | 'out' | 'refused' | 'back';

  @Column({ type: 'text' })
  note!: string;

  /** How it lies that went out. */
  @Column({ type: 'simple-json', nullable: true })
  lies!: Exchanged | null;

  /** From the recording's seconds to its own. */
  @Column({ type: 'simple-json', nullable: true })
  timeMap!: TimeMap | null;

  /** Of what it was made from. */
  @Column({ type: 'text' })
  basis!: string;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text', nullable: true })
  backAt!: string | null;

  @Column({ type: 'text', nullable: true })
  backSha256!: string | null;

  /** Size and time of the file that was looked at last. */
  @Column({ type: 'text' })
  stamp!: string;

  /** The take in whose place it came. */
  @Column({ type: 'text', nullable: true })
  takeBefore!: string | null;
}
