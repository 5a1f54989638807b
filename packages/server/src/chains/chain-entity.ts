import type { ChainDraft } from '@tonos/contract';
import type { ChainFile } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('chain')
export class ChainEntity {
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

  @Column({ type: 'simple-json', nullable: true })
  draft!: ChainDraft | null;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  changedAt!: string;

  @Column({ type: 'simple-json' })
  tags!: string[];

  @Column({ type: 'text' })
  notes!: string;

  @Column({ type: 'boolean' })
  starred!: boolean;

  @Column({ type: 'boolean' })
  archived!: boolean;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}

/** Immutable: written once, never changed. */
@Entity('chain_revision')
export class ChainRevisionEntity {
  @PrimaryColumn({ type: 'text' })
  chainId!: string;

  @PrimaryColumn({ type: 'integer' })
  revision!: number;

  @Column({ type: 'simple-json' })
  file!: ChainFile;

  @Column({ type: 'text' })
  note!: string;

  @Column({ type: 'text' })
  author!: string;

  @Column({ type: 'text' })
  createdAt!: string;
}
