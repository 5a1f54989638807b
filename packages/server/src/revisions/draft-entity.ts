import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A person's work in progress on something with revisions. */
@Entity('draft')
export class DraftEntity {
  @PrimaryColumn({ type: 'text' })
  thing!: 'chain' | 'order';

  @PrimaryColumn({ type: 'text' })
  thingId!: string;

  @PrimaryColumn({ type: 'text' })
  personId!: string;

  /** What is being edited, and from which revision on; null where it was kept or given up: its version counts on. */
  @Column({ type: 'simple-json', nullable: true })
  content!: { basedOn: number; changedAt: string; author: string } | null;

  /** Counts every change of it. */
  @Column({ type: 'integer' })
  version!: number;

  /** Since when it is worked on. */
  @Column({ type: 'text' })
  since!: string;

  @Column({ type: 'text' })
  changedAt!: string;
}
