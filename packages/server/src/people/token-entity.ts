import type { Role } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a script shows instead of a cookie. It is known by its hash only. */
@Entity('token')
export class TokenEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  secretHash!: string;

  @Column({ type: 'text' })
  personId!: string;

  @Column({ type: 'text' })
  name!: string;

  /** Never higher than that of who made it. */
  @Column({ type: 'text' })
  role!: Role;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  endsAt!: string;

  @Column({ type: 'text', nullable: true })
  lastUsedAt!: string | null;
}
