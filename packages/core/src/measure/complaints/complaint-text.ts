import { figure } from '../../signal/figures.ts';
import { COMPLAINTS, type Complaint, type ComplaintCode } from './complaint.ts';

const DECIMALS: Partial<Record<ComplaintCode, number>> = {
  roomy: 2,
  'dc-offset': 2,
  polarity: 2,
  'band-limited': 0,
};

/** "Hum, 18.2 dB". */
export const complaintText = ({ code, amount, unit }: Pick<Complaint, 'code' | 'amount' | 'unit'>): string =>
  `${COMPLAINTS[code].title}, ${figure(amount, DECIMALS[code] ?? 1)}${unit ? ` ${unit}` : ''}`;
