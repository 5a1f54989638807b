import * as z from 'zod';

const knot = z.tuple([z.number(), z.number()]).readonly();

/** Straight lines between knots; what was taken out or put in lies between two with one side alike. */
export const timeMap = z.array(knot).readonly();
