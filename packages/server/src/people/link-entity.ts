import type { Role } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A link that is good once: to join, or to set a new password. It is known by its hash only, and goes when it was used. */
@Entity('link')
export class LinkEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  secretHash!: string;

  @Column({ type: 'text' })
  kind!: 'join' | 'way-back';

  /** Of who joins. */
  @Column({ type: 'text' })
  role!: Role;

  @Column({ type: 'simple-json' })
  titleIds!: string[];

  /** Who finds the way back. */
  @Column({ type: 'text', nullable: true })
  personId!: string | null;

  /** Who made it. */
  @Column({ type: 'text' })
  byId!: string;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  endsAt!: string;
}
