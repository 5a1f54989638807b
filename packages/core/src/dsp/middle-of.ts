/**
 * The value that stands in the middle, at `length >> 1`, once all are in order; the values change places. C. A. R. Hoare's FIND (1961):
 * a sort that leaves out what is not asked for.
 */
export function middleOf(values: Float64Array): number {
  const middle = values.length >> 1;
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = values[middle];
    let i = low;
    let j = high;
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i > j) break;
      const value = values[i];
      values[i++] = values[j];
      values[j--] = value;
    }
    if (j < middle) low = i;
    if (i > middle) high = j;
  }
  return values[middle];
}
