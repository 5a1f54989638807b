import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('preset')
export class PresetEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  kind!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'simple-json' })
  tags!: string[];

  @Column({ type: 'simple-json' })
  settings!: Record<string, unknown>;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  changedAt!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}
