import type { TargetFile } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('target')
export class TargetEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'boolean' })
  shipped!: boolean;

  @Column({ type: 'simple-json' })
  file!: TargetFile;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'integer' })
  version!: number;

  @Column({ type: 'boolean' })
  superseded!: boolean;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}
