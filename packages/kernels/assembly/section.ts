// A second-order section, direct form 1, twice beside each other.

/**
 * What both make of their newest samples: `x1` and `x2` went in before, `y1` and `y2` came out. Always the same sums in the same order;
 * the compiler puts them where they are called.
 */
export function section(
  x: v128,
  x1: v128,
  x2: v128,
  y1: v128,
  y2: v128,
  b0: v128,
  b1: v128,
  b2: v128,
  a1: v128,
  a2: v128,
): v128 {
  return f64x2.sub(
    f64x2.add(f64x2.mul(b0, x), f64x2.sub(f64x2.add(f64x2.mul(b1, x1), f64x2.mul(b2, x2)), f64x2.mul(a2, y2))),
    f64x2.mul(a1, y1),
  );
}
