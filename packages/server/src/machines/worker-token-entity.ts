import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What lets machines work along. The secret itself is told once and kept nowhere. */
@Entity('worker_token')
export class WorkerTokenEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'text' })
  secretHash!: string;

  @Column({ type: 'text' })
  createdAt!: string;
}
