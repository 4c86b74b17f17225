/**
 * A refusal: the one way in which core and services say no.
 *
 * It carries a code for programs, a sentence for people (what, which, what now) and the facts behind it. It is not a
 * fault of the program, so it is never logged as one.
 */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
    this.name = 'Refusal';
  }
}
