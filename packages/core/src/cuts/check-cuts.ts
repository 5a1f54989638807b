import { SignalError } from '../signal/errors.ts';
import { plainFigure } from '../signal/figures.ts';
import { cutName, cutsInOrder, resultSecondsOf, spanOf, type TimeCut } from './cut.ts';

/** A header may round: an end that lies no further behind the recording's is its end. */
const END_TOLERANCE_SECONDS = 0.002;
/** What pick-ups of one recording last together: they lie in memory. */
const MOST_PICK_UP_SECONDS = 600;
const LEAST_LEFT_SECONDS = 0.01;

/** What is wrong with cuts, as sentences; the length is that of the recording, where it is known. */
export function cutFaults(cuts: readonly TimeCut[], seconds = Number.POSITIVE_INFINITY): string[] {
  const faults = cuts.flatMap((cut) => faultsOfOne(cut, seconds));
  const ordered = cutsInOrder(cuts);
  for (let i = 1; i < ordered.length; i++) {
    const [before, cut] = [ordered[i - 1], ordered[i]];
    const { startSeconds } = spanOf(cut);
    const twice = cut.kind === 'pause' && before.kind === 'pause' && startSeconds === before.atSeconds;
    if (startSeconds < spanOf(before).endSeconds || twice)
      faults.push(`${cutName(before)} and ${cutName(cut)} overlap. Move one of their edges, or switch one off.`);
  }
  const pickUps = ordered.filter(({ kind }) => kind === 'pick-up');
  if (sumOf(pickUps, resultSecondsOf) > MOST_PICK_UP_SECONDS)
    faults.push(
      `The pick-ups of one recording may last ${plainFigure(MOST_PICK_UP_SECONDS / 60)} min together. Record the chapter again, or lay in less.`,
    );
  const gone = sumOf(ordered, (cut) => spanOf(cut).endSeconds - spanOf(cut).startSeconds - resultSecondsOf(cut));
  if (!faults.length && ordered.length && seconds - gone < LEAST_LEFT_SECONDS)
    faults.push('The cuts take everything out: nothing of the recording would be left. Switch one of them off.');
  return faults;
}

/** Refuses cuts that cannot be made. @param name how messages call the recording; @throws SignalError */
export function checkCuts(cuts: readonly TimeCut[], seconds: number, name: string): void {
  const faults = cutFaults(cuts, seconds);
  if (faults.length) throw new SignalError('bad-cuts', `${name}: ${faults.join(' ')}`, { file: name, faults });
}

function faultsOfOne(cut: TimeCut, seconds: number): string[] {
  const { startSeconds, endSeconds } = spanOf(cut);
  const faults: string[] = [];
  if (cut.kind !== 'pause' && endSeconds <= startSeconds)
    faults.push(`${cutName(cut)} ends before it begins. Its end must lie behind its start.`);
  if (cut.kind === 'pick-up' && cut.toSeconds <= cut.fromSeconds)
    faults.push(`${cutName(cut)} takes a stretch that ends before it begins (fromSeconds, toSeconds).`);
  if (endSeconds > seconds + END_TOLERANCE_SECONDS)
    faults.push(
      `${cutName(cut)} lies outside of the recording, which is ${plainFigure(Math.round(seconds * 1000) / 1000)} s long.`,
    );
  return faults;
}

const sumOf = <T>(items: readonly T[], value: (item: T) => number): number =>
  items.reduce((sum, item) => sum + value(item), 0);
