import type { ChainFile } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';
import { RevisedEntity, RevisionEntity } from '../revisions/revised-entity.ts';

@Entity('chain')
export class ChainEntity extends RevisedEntity {
  @Column({ type: 'simple-json' })
  tags!: string[];

  @Column({ type: 'text' })
  notes!: string;

  @Column({ type: 'boolean' })
  starred!: boolean;

  @Column({ type: 'boolean' })
  archived!: boolean;
}

@Entity('chain_revision')
export class ChainRevisionEntity extends RevisionEntity {
  @PrimaryColumn({ type: 'text' })
  chainId!: string;

  @Column({ type: 'simple-json' })
  file!: ChainFile;
}
