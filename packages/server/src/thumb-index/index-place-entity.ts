import type { NewIndexPlace } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A letter of the thumb index that everybody shares. */
@Entity('index_place')
export class IndexPlaceEntity {
  @PrimaryColumn({ type: 'text' })
  letter!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'simple-json' })
  content!: NewIndexPlace['content'];

  @Column({ type: 'text' })
  changedAt!: string;
}
