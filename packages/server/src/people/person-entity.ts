import type { Role } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Who is there before anybody said who they are: alone, they do everything; set up for several, they become the first owner. */
export const FIRST_PERSON = 'first';

@Entity('person')
export class PersonEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'text' })
  role!: Role;

  /** Argon2id, with its salt and its costs; null for who has none. */
  @Column({ type: 'text', nullable: true })
  passwordHash!: string | null;

  /** Who they are to the house's own sign-in. */
  @Column({ type: 'text', nullable: true })
  subject!: string | null;

  /** Closed titles that they know of. */
  @Column({ type: 'simple-json' })
  titles!: string[];

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text', nullable: true })
  leftAt!: string | null;
}
