/** What several that go the same way at the same time come to together, where it is for all of them to say. */

interface Question {
  values: Map<number, unknown>;
  combine(values: readonly unknown[]): readonly unknown[];
  answer: Map<number, (value: unknown) => void>;
}

/** Asks the others: all must ask the same questions in their own order, or leave. */
export class Agreement {
  private readonly present: Set<number>;
  private readonly open = new Map<string, Question>();

  constructor(count: number) {
    this.present = new Set(Array.from({ length: count }, (_, i) => i));
  }

  /**
   * Waits until all have said their own.
   * @param combine what each gets for what all said, in the order of the members
   */
  agree<T>(member: number, key: string, value: T, combine: (values: readonly T[]) => readonly T[]): Promise<T> {
    const question: Question = this.open.get(key) ?? {
      values: new Map(),
      combine: combine as Question['combine'],
      answer: new Map(),
    };
    this.open.set(key, question);
    question.values.set(member, value);
    return new Promise<T>((resolve) => {
      question.answer.set(member, resolve as (value: unknown) => void);
      this.settle(key, question);
    });
  }

  /** One that fails, or is done, is waited for no longer. */
  leave(member: number): void {
    this.present.delete(member);
    for (const [key, question] of this.open) this.settle(key, question);
  }

  private settle(key: string, { values, combine, answer }: Question): void {
    if ([...this.present].some((member) => !values.has(member))) return;
    this.open.delete(key);
    const members = [...answer.keys()].sort((a, b) => a - b);
    const agreed = combine(members.map((member) => values.get(member)));
    members.forEach((member, i) => {
      answer.get(member)!(agreed[i]);
    });
  }
}
