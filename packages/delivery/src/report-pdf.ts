import { differenceUnit, figure, LIMITABLE_MEASURES, type LimitableMeasure } from '@tonos/core';
import type PDFDocument from 'pdfkit';
import {
  complaintsOf,
  type DeliveryReport,
  type DeliveryReportItem,
  detailsLine,
  isDelivered,
  notesTexts,
  stateOf,
} from './report.ts';

const MARGIN = 42;
const ROW = 15;
const FAINT = '#5d584c';
const OVER = '#b0401d';

/** The fonts that every reader of PDF has know no minus sign and no arrows. */
const plain = (text: string): string =>
  text.replace(/\u2212/g, '\u2013').replace(/[^\u0020-\u00ff\u2013\u2014\u2018-\u201e\u2022\u2026]/g, '?');

const COLUMNS: readonly { measure: LimitableMeasure; short: string }[] = [
  { measure: 'integratedLufs', short: 'Loudness LUFS' },
  { measure: 'truePeakDbtp', short: 'True peak dBTP' },
  { measure: 'rmsDbfs', short: 'RMS dBFS' },
  { measure: 'noiseFloorDbfs', short: 'Floor dBFS' },
  { measure: 'loudnessRangeLu', short: 'Range LU' },
  { measure: 'durationSeconds', short: 'Length s' },
];
const NAME_WIDTH = 206;
const FIGURE_WIDTH = 68;

/** A report to be printed or sent on: what was delivered, by which chain to which target, every figure and every exception. */
export async function reportPdf(report: DeliveryReport): Promise<Buffer> {
  // large, and wanted seldom
  const { default: Pdf } = await import('pdfkit');
  const document = new Pdf({
    size: 'A4',
    layout: 'landscape',
    margin: MARGIN,
    info: {
      Title: `${report.title}: delivery report`,
      Creator: `Tonos ${report.version}`,
      CreationDate: new Date(report.createdAt),
    },
  });
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    document.on('data', (chunk: Buffer) => chunks.push(chunk));
    document.on('end', () => resolve(Buffer.concat(chunks)));
    document.on('error', reject);
  });
  const delivered = report.items.filter(isDelivered).length;
  document.font('Times-Roman').fontSize(22).text(plain(report.title));
  document.font('Helvetica').fontSize(9).fillColor(FAINT);
  const chain = report.chain ? `${report.chain.name}, revision ${report.chain.revision}; ` : '';
  document.text(
    plain(
      `${chain}target ${report.target}; ${report.createdAt.slice(0, 16).replace('T', ' ')} UTC; Tonos ${report.version}`,
    ),
  );
  const details = detailsLine(report);
  if (details) document.text(plain(details));
  if (report.unapproved?.length)
    document.text(plain(`The title asks for what is approved; ${report.unapproved.join(', and ')}.`));
  document.text(`${delivered} of ${report.items.length} delivered`);
  document.moveDown(0.8);
  head(document);
  for (const item of report.items) line(document, item);
  exceptions(document, report.items);
  complaints(document, report.items);
  checksums(document, report.items);
  document.end();
  return done;
}

type Document = InstanceType<typeof PDFDocument>;

/** Left edge, in points, of the i-th column of figures. */
const columnX = (i: number) => MARGIN + NAME_WIDTH + i * FIGURE_WIDTH;

const right = (document: Document) => document.page.width - MARGIN;

/** Begins a new page where the next lines would not fit. */
function makeRoom(document: Document, height: number): boolean {
  if (document.y + height <= document.page.height - MARGIN) return false;
  document.addPage();
  return true;
}

function head(document: Document): void {
  const { y } = document;
  document.font('Helvetica-Bold').fontSize(8).fillColor('#000');
  document.text('Recording', MARGIN, y, { width: NAME_WIDTH });
  COLUMNS.forEach(({ short }, i) => {
    document.text(short, columnX(i), y, { width: FIGURE_WIDTH - 6, align: 'right' });
  });
  document.text('Verdict', columnX(COLUMNS.length) + 8, y);
  document
    .moveTo(MARGIN, y + 12)
    .lineTo(right(document), y + 12)
    .lineWidth(0.8)
    .stroke('#000');
  document.y = y + ROW;
}

function line(document: Document, item: DeliveryReportItem): void {
  if (makeRoom(document, ROW)) head(document);
  const { y } = document;
  document.font('Helvetica').fontSize(8.5).fillColor('#000');
  document.text(plain(item.output ?? item.name), MARGIN, y, { width: NAME_WIDTH - 8, height: 10, ellipsis: true });
  document.font('Courier').fontSize(8.5);
  COLUMNS.forEach(({ measure }, i) => {
    const value = item.after?.[measure] ?? null;
    const { decimals } = LIMITABLE_MEASURES[measure];
    const off = item.limits.some((limit) => limit.measure === measure && limit.required && limit.result !== 'within');
    document.fillColor(off ? OVER : '#000');
    document.text(value === null ? '\u2013' : plain(figure(value, decimals)), columnX(i), y, {
      width: FIGURE_WIDTH - 6,
      align: 'right',
    });
  });
  document
    .font('Helvetica')
    .fontSize(8.5)
    .fillColor(item.status === 'within' ? '#000' : OVER);
  document.text(plain(stateOf(item)), columnX(COLUMNS.length) + 8, y, {
    height: 10,
    ellipsis: true,
  });
  document
    .moveTo(MARGIN, y + 11.5)
    .lineTo(right(document), y + 11.5)
    .lineWidth(0.3)
    .stroke('#a89f88');
  document.y = y + ROW;
}

function title(document: Document, text: string): void {
  makeRoom(document, 60);
  document.moveDown(1);
  document.font('Times-Roman').fontSize(14).fillColor('#000').text(text, MARGIN);
  document.moveDown(0.3);
}

function exceptions(document: Document, items: readonly DeliveryReportItem[]): void {
  const found = items.filter(({ status }) => status !== 'within');
  if (!found.length) return;
  title(document, 'Exceptions');
  for (const item of found) {
    makeRoom(document, 30);
    document
      .font('Helvetica-Bold')
      .fontSize(9)
      .fillColor('#000')
      .text(plain(item.name), MARGIN, document.y, { continued: true });
    document.font('Helvetica').text(plain(`  ${stateOf(item)}`));
    const missed = item.limits
      .filter(({ required, result }) => required && result !== 'within')
      .map(
        ({ measure, result, by }) =>
          `${LIMITABLE_MEASURES[measure].title} ${result}${by === null ? '' : ` by ${figure(by, 2)} ${differenceUnit(LIMITABLE_MEASURES[measure].unit)}`}`,
      );
    const accepted =
      item.accepted && `accepted${item.accepted.by ? ` by ${item.accepted.by}` : ''}: ${item.accepted.reason}`;
    const reasons = [...missed, accepted, item.error?.message, ...notesTexts(item)].filter(Boolean);
    document.fillColor(FAINT).text(plain(reasons.join('; ') || item.status), MARGIN, document.y);
    document.moveDown(0.3);
  }
}

/** What was wrong with the recordings, and what of it is still heard. */
function complaints(document: Document, items: readonly DeliveryReportItem[]): void {
  const found = items.filter(({ before, after }) => complaintsOf(before).length || complaintsOf(after).length);
  if (!found.length) return;
  title(document, 'What was heard in the recordings');
  for (const { name, before, after } of found) {
    const left = complaintsOf(after);
    const told = [
      complaintsOf(before).join('; ') || 'nothing',
      ...(after ? [left.length ? `Delivered with: ${left.join('; ')}` : 'Delivered with none of it'] : []),
    ].join('. ');
    document.font('Helvetica').fontSize(9);
    const height = document.heightOfString(plain(told), { width: right(document) - MARGIN });
    makeRoom(document, height + 16);
    document.font('Helvetica-Bold').fillColor('#000').text(plain(name), MARGIN, document.y);
    document.font('Helvetica').fillColor(FAINT).text(plain(told), MARGIN, document.y);
    document.moveDown(0.3);
  }
}

function checksums(document: Document, items: readonly DeliveryReportItem[]): void {
  const files = items.filter(isDelivered);
  if (!files.length) return;
  title(document, 'SHA-256 of what is delivered');
  for (const { output, outputSha256 } of files) {
    makeRoom(document, 12);
    document.font('Courier').fontSize(7.5).fillColor('#000');
    document.text(plain(`${outputSha256}  ${output}`), MARGIN, document.y);
  }
}
