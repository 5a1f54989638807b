/** Modified Bessel function of the first kind, order 0, by its power series. */
export function besselI0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > 1e-17 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Kaiser's beta for a stop-band attenuation in dB (above 50). J. F. Kaiser, 1974. */
export const kaiserBeta = (attenuationDb: number): number => 0.1102 * (attenuationDb - 8.7);

/** Kaiser window at `x` in -1..1. */
export const kaiser = (x: number, beta: number): number =>
  Math.abs(x) >= 1 ? 0 : besselI0(beta * Math.sqrt(1 - x * x)) / besselI0(beta);

export const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
