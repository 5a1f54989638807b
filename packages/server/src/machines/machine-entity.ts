import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A machine that works along. */
@Entity('machine')
export class MachineEntity {
  /** It makes its id itself, once, and keeps it in its cache. */
  @PrimaryColumn({ type: 'text' })
  id!: string;

  @Column({ type: 'text' })
  name!: string;

  @Column({ type: 'text' })
  version!: string;

  @Column({ type: 'integer' })
  threads!: number;

  /** By which token it speaks. */
  @Column({ type: 'text' })
  tokenId!: string;

  /** It ends what it has and gets nothing new. */
  @Column({ type: 'boolean' })
  draining!: boolean;

  /** Why it takes no work by itself. */
  @Column({ type: 'text', nullable: true })
  resting!: string | null;

  /** Of late: seconds of sound over seconds of work, all its threads together. */
  @Column({ type: 'float', nullable: true })
  timesRealTime!: number | null;

  @Column({ type: 'integer' })
  cacheBytes!: number;

  @Column({ type: 'integer' })
  cacheLimitBytes!: number;

  /** It said that it ends. */
  @Column({ type: 'boolean' })
  left!: boolean;

  @Column({ type: 'text' })
  lastHeardAt!: string;
}
