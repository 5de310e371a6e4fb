/** A request that is refused, with the sentence for the person and the status for the program that asked. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    words: string,
    /** By which the page that asked knows what it may do about it. */
    readonly code: "refused" | "used" | "breaks" | "named" = "refused",
  ) {
    super(words);
    this.name = "Refusal";
  }
}
