import type { SetMember } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('recording_set')
export class RecordingSetEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  titleId!: string;

  /** The first one's time is the set's. */
  @Column({ type: 'simple-json' })
  members!: SetMember[];

  @Column({ type: 'text' })
  createdAt!: string;
}
