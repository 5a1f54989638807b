import type { NoteAbout } from '@tonos/contract';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('note')
export class NoteEntity {
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  kind!: NoteAbout['kind'];

  @Column({ type: 'text' })
  aboutId!: string;

  @Column({ type: 'text', nullable: true })
  stepId!: string | null;

  /** Of what belongs to one. */
  @Column({ type: 'text', nullable: true })
  titleId!: string | null;

  @Column({ type: 'text' })
  text!: string;

  @Column({ type: 'text' })
  personId!: string;

  @Column({ type: 'text' })
  at!: string;

  @Column({ type: 'simple-json' })
  mentions!: string[];

  @Column({ type: 'text', nullable: true })
  doneBy!: string | null;

  @Column({ type: 'text', nullable: true })
  doneAt!: string | null;
}
