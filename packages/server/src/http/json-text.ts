/** A reply whose JSON is there already: long lists are joined from parts that were kept. The type says what it reads as. */
export class JsonText<Reply> {
  declare readonly reads: Reply;

  constructor(readonly text: string) {}
}
