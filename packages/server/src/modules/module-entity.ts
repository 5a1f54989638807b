import type { ModuleManifest } from '@tonos/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('module')
export class ModuleEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  /** Unique: a module is its content. */
  @Column({ type: 'text' })
  sha256!: string;

  /** Name and version, for lists and the trash. */
  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'simple-json' })
  manifest!: ModuleManifest;

  @Column({ type: 'integer' })
  bytes!: number;

  @Column({ type: 'text' })
  fileName!: string;

  @Column({ type: 'text' })
  author!: string;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}
