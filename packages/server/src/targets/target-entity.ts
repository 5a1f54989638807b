import type { Approval } from '@tonos/contract';
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

  /** Who made it; null for what ships, and for what was there before people were. */
  @Column({ type: 'text', nullable: true })
  personId!: string | null;

  @Column({ type: 'simple-json', nullable: true })
  approval!: Approval | null;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'integer' })
  version!: number;

  @Column({ type: 'boolean' })
  superseded!: boolean;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}
