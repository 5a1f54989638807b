import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A file of a watched folder that has come in, as it was then: another content under its name comes in again. */
@Entity('arrival')
export class ArrivalEntity {
  @PrimaryColumn({ type: 'text' })
  titleId!: string;

  /** Root, path and name. */
  @PrimaryColumn({ type: 'text' })
  file!: string;

  /** Size and time of change. */
  @PrimaryColumn({ type: 'text' })
  stamp!: string;

  @Column({ type: 'text' })
  recordingId!: string;

  /** Whether a run has taken it, or none was wanted. */
  @Column({ type: 'boolean' })
  isRun!: boolean;

  /** The folder that it came in with, as long as what came with it is not linked. */
  @Column({ type: 'text', nullable: true })
  session!: string | null;

  /** Why that can't be linked: somebody has to look. */
  @Column({ type: 'text', nullable: true })
  apart!: string | null;
}
