import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A browser that somebody signed in with. The secret in its cookie is known by its hash only. */
@Entity('session')
export class SessionEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  secretHash!: string;

  @Column({ type: 'text' })
  personId!: string;

  /** Of the sign-in, however often the secret has changed since. */
  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text' })
  lastUsedAt!: string;

  @Column({ type: 'text' })
  browser!: string;
}
