import { Column, PrimaryColumn } from 'typeorm';

/** Something that people edit, with immutable revisions and one draft. */
export abstract class RevisedEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  /** The number of the latest revision. */
  @Column({ type: 'integer' })
  revision!: number;

  /** Counts every change of the draft and of the revisions. */
  @Column({ type: 'integer' })
  version!: number;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  changedAt!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}

/** Immutable: written once, never changed. */
export abstract class RevisionEntity {
  @PrimaryColumn({ type: 'integer' })
  revision!: number;

  @Column({ type: 'text' })
  note!: string;

  @Column({ type: 'text' })
  author!: string;

  @Column({ type: 'text' })
  createdAt!: string;
}
