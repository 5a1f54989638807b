import type { OrderDraft } from '@tonos/contract';
import type { OrderFile } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('running_order')
export class OrderEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  titleId!: string;

  @Column({ type: 'text' })
  name!: string;

  /** The number of the latest revision. */
  @Column({ type: 'integer' })
  revision!: number;

  /** Counts every change of the draft and of the revisions. */
  @Column({ type: 'integer' })
  version!: number;

  @Column({ type: 'simple-json', nullable: true })
  draft!: OrderDraft | null;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  changedAt!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}

/** Immutable: written once, never changed. */
@Entity('order_revision')
export class OrderRevisionEntity {
  @PrimaryColumn({ type: 'text' })
  orderId!: string;

  @PrimaryColumn({ type: 'integer' })
  revision!: number;

  @Column({ type: 'simple-json' })
  file!: OrderFile;

  @Column({ type: 'text' })
  note!: string;

  @Column({ type: 'text' })
  author!: string;

  @Column({ type: 'text' })
  createdAt!: string;
}
