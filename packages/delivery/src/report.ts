import { complaintText, type LimitResult, type Measurement } from '@tonos/core';

/** What every form of a delivery's report is made from. */
export interface DeliveryReport {
  version: string;
  title: string;
  /** What the title says of itself. */
  details?: Partial<Record<'authors' | 'voices' | 'publisher' | 'series' | 'number' | 'copyright', string>> & {
    year?: number | null;
  };
  chain: { name: string; revision: number } | null;
  target: string;
  createdAt: string;
  /** What of it was not approved though the title asks for that. */
  unapproved?: readonly string[];
  items: readonly DeliveryReportItem[];
}

export interface DeliveryReportItem {
  name: string;
  sourceSha256: string;
  status: string;
  output: string | null;
  outputSha256: string | null;
  before: Measurement | null;
  after: Measurement | null;
  limits: readonly LimitResult[];
  accepted: { reason: string; at: string; by?: string } | null;
  error: { message: string } | null;
  openNotes?: readonly { atSeconds: number; text: string }[];
}

/** What is wrong with a sound, in words; one that was measured by an earlier version tells nothing. */
export const complaintsOf = (measurement: Measurement | null): string[] =>
  (measurement?.complaints ?? []).map(complaintText);

/** Who it is by, and where it belongs, in one line; empty where nothing is said. */
export function detailsLine({ details = {} }: Pick<DeliveryReport, 'details'>): string {
  const { authors, voices, publisher, year, series, number, copyright } = details;
  const published = [publisher, year].filter(Boolean).join(' ');
  const inSeries = series && `${series}${number ? `, ${number}` : ''}`;
  return [authors && `by ${authors}`, voices && `read by ${voices}`, inSeries, published, copyright]
    .filter(Boolean)
    .join('; ');
}

/** Notes that nobody has seen to, each with its place in seconds. */
export const notesTexts = ({ openNotes = [] }: Pick<DeliveryReportItem, 'openNotes'>): string[] =>
  openNotes.map(({ atSeconds, text }) => `open note at ${atSeconds.toFixed(1)} s: ${text}`);

/** What to call the state of an item: one off target that a person accepted is delivered. */
export const stateOf = ({ status, accepted }: DeliveryReportItem): string =>
  accepted ? 'off target, accepted' : status.replace('-', ' ');

/** Whether a file is part of the delivery: it exists, and is within or was accepted. */
export const isDelivered = ({
  status,
  accepted,
  output,
}: {
  status: string;
  accepted: object | null;
  output: object | string | null;
}): boolean => output !== null && (status === 'within' || accepted !== null);
