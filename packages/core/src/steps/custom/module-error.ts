import { TonosError } from '../../signal/errors.ts';

/** A module that is not one, that says what is not so, or that did what none may do. The message names it. */
export class ModuleError extends TonosError {}
