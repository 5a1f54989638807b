import type { Section } from './section.ts';

/**
 * Linkwitz-Riley crossovers of fourth order: two Butterworth sections of second order each way, by the bilinear transform. Low and
 * high add up to an all-pass whose poles are those of one Butterworth section, exactly, at any rate (Linkwitz 1976).
 */
function butterworthTerms(hz: number, sampleRateHz: number) {
  const k = Math.tan((Math.PI * Math.min(hz, 0.49 * sampleRateHz)) / sampleRateHz);
  const norm = 1 / (1 + Math.SQRT2 * k + k * k);
  return { k, norm, a1: 2 * (k * k - 1) * norm, a2: (1 - Math.SQRT2 * k + k * k) * norm };
}

export function lowSections(hz: number, sampleRateHz: number): Section[] {
  const { k, norm, a1, a2 } = butterworthTerms(hz, sampleRateHz);
  const section: Section = [k * k * norm, 2 * k * k * norm, k * k * norm, a1, a2];
  return [section, section];
}

export function highSections(hz: number, sampleRateHz: number): Section[] {
  const { norm, a1, a2 } = butterworthTerms(hz, sampleRateHz);
  const section: Section = [norm, -2 * norm, norm, a1, a2];
  return [section, section];
}

/** What low and high add up to. */
export function sumSection(hz: number, sampleRateHz: number): Section {
  const { a1, a2 } = butterworthTerms(hz, sampleRateHz);
  return [a2, a1, 1, a1, a2];
}
