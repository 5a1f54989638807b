/**
 * Work that is done one piece at a time, the people who wait for it in turn: whoever has waited longest since their last piece is next.
 * A person's tenth open page does not hold up a colleague's first.
 */
export class Turns {
  /** By person; the one whose turn comes next stands first. */
  private readonly waiting = new Map<string, (() => Promise<unknown>)[]>();
  private isBusy = false;

  take<T>(person: string, work: () => Promise<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      const own = this.waiting.get(person) ?? [];
      own.push(() => work().then(resolve, reject));
      this.waiting.set(person, own);
      void this.go();
    });
  }

  private async go(): Promise<void> {
    if (this.isBusy) return;
    this.isBusy = true;
    for (let next = this.waiting.entries().next(); !next.done; next = this.waiting.entries().next()) {
      const [person, own] = next.value;
      const work = own.shift()!;
      // whoever has more to come stands last again
      this.waiting.delete(person);
      if (own.length) this.waiting.set(person, own);
      await work();
    }
    this.isBusy = false;
  }
}
