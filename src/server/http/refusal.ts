/** A person's own mistake, said in a sentence. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    words: string,
  ) {
    super(words);
    this.name = "Refusal";
  }
}
