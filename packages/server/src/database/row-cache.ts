interface Identified {
  id: string;
}

/** A few kilobytes each. */
const MOST_ROWS = 6000;

/**
 * Rows with large columns that are asked for again and again while a few of them change. What is light of a row tells whether what is
 * kept still holds: it must change whenever a large column does.
 */
export class RowCache<Full extends Identified> {
  private readonly kept = new Map<string, { sign: string; full: Full }>();

  /** @param most rows that are kept; those that were asked for longest ago go first */
  constructor(private readonly most = MOST_ROWS) {}

  /** The whole rows in the order of the light ones. Nobody may change them. @param read those that are not kept, by their ids */
  async complete(light: readonly Identified[], read: (ids: string[]) => Promise<Full[]>): Promise<Full[]> {
    const signs = light.map((row) => JSON.stringify(row));
    const missing = light.filter(({ id }, i) => this.kept.get(id)?.sign !== signs[i]).map(({ id }) => id);
    const fresh = new Map((missing.length ? await read(missing) : []).map((full) => [full.id, full]));
    const rows = light.flatMap(({ id }, i): Full[] => {
      const full = fresh.get(id) ?? this.kept.get(id)?.full;
      if (!full) return [];
      this.kept.delete(id); // the newest lie last
      this.kept.set(id, { sign: signs[i], full });
      return [full];
    });
    for (const id of this.kept.keys()) {
      if (this.kept.size <= this.most) break;
      this.kept.delete(id);
    }
    return rows;
  }
}
