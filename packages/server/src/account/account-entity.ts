import type { AccountKind } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Who did what, in a sentence as it was true then. Rows are added and never changed. */
@Entity('account_entry')
export class AccountEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  at!: string;

  /** Null: the server by itself, or somebody who did not sign in. */
  @Column({ type: 'text', nullable: true })
  personId!: string | null;

  /** As they were called then. */
  @Column({ type: 'text' })
  personName!: string;

  @Column({ type: 'text' })
  kind!: AccountKind;

  @Column({ type: 'text', nullable: true })
  titleId!: string | null;

  @Column({ type: 'text', nullable: true })
  chainId!: string | null;

  @Column({ type: 'text' })
  sentence!: string;
}
