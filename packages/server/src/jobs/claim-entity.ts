import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import type { Payload } from './payload.ts';

/**
 * Somebody works on something. Its key is the fencing number: it grows with every claim and is never given twice, and only who has the number
 * of a claim that still stands may settle what it holds.
 */
@Entity('job_claim')
export class ClaimEntity {
  @PrimaryGeneratedColumn()
  fence!: number;

  @Column({ type: 'text' })
  kind!: string;

  /** The recording that is measured, or the run whose items are rendered. */
  @Column({ type: 'text' })
  subjectId!: string;

  @Column({ type: 'simple-json' })
  itemIds!: string[];

  @Column({ type: 'text' })
  titleId!: string;

  /** What is to be done. */
  @Column({ type: 'simple-json', nullable: true, select: false })
  payload!: Payload | null;

  /** None: a thread of this process. */
  @Column({ type: 'text', nullable: true })
  machineId!: string | null;

  /** Claims of this process hold until it ends: whoever runs it then has all of them. */
  @Column({ type: 'text', nullable: true })
  leasedUntil!: string | null;

  @Column({ type: 'text' })
  claimedAt!: string;
}
