/** Rows of a long list that are seen at once, under two megabytes; the rest comes behind them. */
export const FIRST_ROWS = 100;
