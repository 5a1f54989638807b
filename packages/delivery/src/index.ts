export { type BagFile, type BagText, bagOf } from './bag.ts';
export { chaptersJson, cueSheet } from './chapters.ts';
export { csvText } from './csv.ts';
export { type DeliveryReport, isDelivered } from './report.ts';
export { reportCsv } from './report-csv.ts';
export { reportPdf } from './report-pdf.ts';
export { reportTexts } from './report-texts.ts';
