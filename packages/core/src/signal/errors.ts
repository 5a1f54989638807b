/** What can go wrong in the core, as classes a caller can act on. Messages say what was found, what is wanted, what to do next. */
export class TonosError extends Error {
  /** @param code stable word for programs; @param details plain data about what was found */
  constructor(
    readonly code: string,
    message: string,
    readonly details: Readonly<Record<string, unknown>> = {},
    options?: ErrorOptions,
  ) {
    super(message, options);
    this.name = new.target.name;
  }
}

/** A chain that cannot be run: an unknown kind, a setting outside its range. */
export class InvalidChainError extends TonosError {}

/** A target that cannot be used. */
export class InvalidTargetError extends TonosError {}

/** A running order that cannot be put together. */
export class InvalidOrderError extends TonosError {}

/** The sound itself cannot be processed as asked. */
export class SignalError extends TonosError {}
