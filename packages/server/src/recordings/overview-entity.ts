import { Column, Entity, PrimaryColumn } from 'typeorm';

/** The picture of a whole recording: it goes with the recording. Long, and rarely wanted. */
@Entity('recording_overview')
export class OverviewEntity {
  @PrimaryColumn({ type: 'text' })
  recordingId!: string;

  /** Lowest and highest sample of each column. */
  @Column({ type: 'simple-json' })
  levels!: [number, number][];
}
