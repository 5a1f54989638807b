import type { Approval } from '@tonos/contract';
import { Column, PrimaryColumn } from 'typeorm';

/** Something that people edit, with immutable revisions; drafts of it are rows of their own. */
export abstract class RevisedEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  /** The number of the latest revision. */
  @Column({ type: 'integer' })
  revision!: number;

  /** Counts every change of the revisions. */
  @Column({ type: 'integer' })
  version!: number;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  changedAt!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}

/** Immutable but for its approval: written once, never changed. */
export abstract class RevisionEntity {
  @PrimaryColumn({ type: 'integer' })
  revision!: number;

  @Column({ type: 'text' })
  note!: string;

  @Column({ type: 'text' })
  author!: string;

  @Column({ type: 'simple-json', nullable: true })
  approval!: Approval | null;

  @Column({ type: 'text' })
  createdAt!: string;
}
