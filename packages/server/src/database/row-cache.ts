import { inSlices } from '../in-slices.ts';

/** A row, and a text that changes whenever what hangs on the row does. */
export interface Sign {
  id: string;
  sign: string;
}

/** What is given out of a row, and its JSON, written when it is first asked for. */
export class Kept<Value> {
  private text: string | undefined;

  constructor(readonly value: Value) {}

  get json(): string {
    this.text ??= JSON.stringify(this.value);
    return this.text;
  }
}

/** A few kilobytes each. */
const MOST_ROWS = 6000;

/** Rows that are read in one go. */
const AT_ONCE = 25;

/** What is given out of rows that are asked for again and again while a few of them change. Nobody may change what is given. */
export class RowCache<Value extends { id: string }> {
  private readonly kept = new Map<string, { sign: string; one: Kept<Value> }>();

  /** @param most rows that are kept; those that were asked for longest ago go first */
  constructor(private readonly most = MOST_ROWS) {}

  /** What these rows give, in their order; a row that is gone by now is left out. @param make reads those that are not kept, by their ids */
  async complete(signs: readonly Sign[], make: (ids: readonly string[]) => Promise<Value[]>): Promise<Kept<Value>[]> {
    const missing = signs.filter(({ id, sign }) => this.kept.get(id)?.sign !== sign).map(({ id }) => id);
    const made = await inSlices(missing, AT_ONCE, make);
    const fresh = new Map(made.map((value) => [value.id, new Kept(value)]));
    const all = signs.flatMap(({ id, sign }): Kept<Value>[] => {
      const one = fresh.get(id) ?? this.kept.get(id)?.one;
      if (!one) return [];
      this.kept.delete(id); // the newest lie last
      this.kept.set(id, { sign, one });
      return [one];
    });
    for (const id of this.kept.keys()) {
      if (this.kept.size <= this.most) break;
      this.kept.delete(id);
    }
    return all;
  }
}
