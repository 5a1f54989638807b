import type { Title } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('title')
export class TitleEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'text' })
  kind!: 'podcast' | 'audiobook';

  @Column({ type: 'text', nullable: true })
  chainId!: string | null;

  @Column({ type: 'text', nullable: true })
  targetId!: string | null;

  @Column({ type: 'simple-json', nullable: true })
  inbox!: Title['inbox'];

  @Column({ type: 'simple-json', nullable: true })
  cover!: Title['cover'];

  @Column({ type: 'simple-json' })
  details!: Partial<Title['details']>;

  /** Done with: it is out of the way, and stays. */
  @Column({ type: 'boolean' })
  archived!: boolean;

  /** Only those who are named, and owners, know of it. */
  @Column({ type: 'boolean' })
  closed!: boolean;

  /** Its runs need approved revisions, or a lead. */
  @Column({ type: 'boolean' })
  approvedOnly!: boolean;

  @Column({ type: 'text' })
  createdAt!: string;

  @Column({ type: 'text', nullable: true })
  trashedAt!: string | null;
}
