/** An answer that is not the one asked for, with its HTTP status. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}
