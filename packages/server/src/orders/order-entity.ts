import type { OrderFile } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';
import { RevisedEntity, RevisionEntity } from '../revisions/revised-entity.ts';

@Entity('running_order')
export class OrderEntity extends RevisedEntity {
  @Column({ type: 'text' })
  titleId!: string;
}

@Entity('order_revision')
export class OrderRevisionEntity extends RevisionEntity {
  @PrimaryColumn({ type: 'text' })
  orderId!: string;

  @Column({ type: 'simple-json' })
  file!: OrderFile;
}
