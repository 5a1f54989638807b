import { type Section, sectionPower } from './section.ts';

/** ITU-R BS.1770-5: a high shelf and a high-pass, re-derived for any rate from the analogue prototypes (bilinear). */
export function kWeighting(sampleRateHz: number): [shelf: Section, highPass: Section] {
  const shelfK = Math.tan((Math.PI * 1681.974450955533) / sampleRateHz);
  const shelfQ = 0.7071752369554196;
  const gain = 10 ** (3.999843853973347 / 20);
  const middle = gain ** 0.4996667741545416;
  const s0 = 1 + shelfK / shelfQ + shelfK * shelfK;
  const shelf: Section = [
    (gain + (middle * shelfK) / shelfQ + shelfK * shelfK) / s0,
    (2 * (shelfK * shelfK - gain)) / s0,
    (gain - (middle * shelfK) / shelfQ + shelfK * shelfK) / s0,
    (2 * (shelfK * shelfK - 1)) / s0,
    (1 - shelfK / shelfQ + shelfK * shelfK) / s0,
  ];
  const passK = Math.tan((Math.PI * 38.13547087602444) / sampleRateHz);
  const passQ = 0.5003270373238773;
  const p0 = 1 + passK / passQ + passK * passK;
  return [shelf, [1, -2, 1, (2 * (passK * passK - 1)) / p0, (1 - passK / passQ + passK * passK) / p0]];
}

const FINE_RATE_HZ = 192000;
const fine = kWeighting(FINE_RATE_HZ);

/** The squared magnitude of the weighting at a frequency. */
export const kWeightingPower = (hz: number): number =>
  fine.reduce((power, section) => power * sectionPower(section, hz, FINE_RATE_HZ), 1);
