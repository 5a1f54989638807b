import type { BagText } from './bag.ts';
import type { DeliveryReport } from './report.ts';
import { reportCsv } from './report-csv.ts';
import { reportPdf } from './report-pdf.ts';

/** A report in the three forms that go with a delivery; the JSON is the report as it was given. */
export const reportTexts = async (report: DeliveryReport & { format: 'tonos.report/1' }): Promise<BagText[]> => [
  { name: 'report.json', content: Buffer.from(`${JSON.stringify(report, undefined, 2)}\n`) },
  { name: 'report.csv', content: Buffer.from(reportCsv(report)) },
  { name: 'report.pdf', content: await reportPdf(report) },
];
