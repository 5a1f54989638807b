/**
 * Says that nothing in an answer is a draft: the store looks through all that is new for drafts otherwise, which takes half a second for
 * thousands of rows, unless it is frozen.
 */
export const asWhole = <T>(answer: T): T => Object.freeze(answer);
