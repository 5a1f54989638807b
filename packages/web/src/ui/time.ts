import dayjs from 'dayjs';

/** Seconds as 0:07.4, 14:07 or 1:02:03. @param decimals of the seconds */
export function clock(seconds: number, decimals = 0): string {
  const unit = 10 ** decimals;
  const total = Math.round(seconds * unit) / unit;
  const hours = Math.floor(total / 3600);
  const minutes = Math.floor((total % 3600) / 60);
  const rest = (total % 60).toFixed(decimals).padStart(decimals ? 3 + decimals : 2, '0');
  return hours ? `${hours}:${String(minutes).padStart(2, '0')}:${rest}` : `${minutes}:${rest}`;
}

/** Reads 7.4, 0:07.4, 14:07 or 1:02:03.5 as seconds; null where it is none of these. */
export function readClock(text: string): number | null {
  if (!/^(\d+:){0,2}\d+([.,]\d*)?$/.test(text.trim())) return null;
  return text
    .trim()
    .replace(',', '.')
    .split(':')
    .reduce((seconds, part) => 60 * seconds + Number(part), 0);
}

export const timeOfDay = (iso: string): string => dayjs(iso).format('HH:mm');

/** Today at 14:07, or 3 May 2026, 14:07. The platform's own formatter takes 30 ms to get ready, in a page's first second. */
export function moment(iso: string, now = new Date()): string {
  const date = dayjs(iso);
  return date.isSame(now, 'day') ? `today, ${timeOfDay(iso)}` : date.format('D MMM YYYY, HH:mm');
}

/** A length of time without false precision. */
export function timeSpan(seconds: number): string {
  if (seconds < 10) return 'a few seconds';
  return seconds < 90 ? `${Math.round(seconds / 5) * 5} s` : clock(Math.round(seconds / 10) * 10);
}

/** How long work will still take. */
export const timeLeft = (seconds: number): string => `${seconds < 10 ? '' : 'about '}${timeSpan(seconds)} left`;
