import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import type { Report } from '@bevrin/contract';
import { ClipSheet, type SheetClip } from './clip-sheet.js';
import { RecheckPage, type SheetRecheck } from './recheck-page.js';
import { PAGE, SOFT } from './sheet-page.js';

const FILES = createRequire(import.meta.url).resolve('@fontsource/libre-franklin/package.json');
const font = (weight: number): string =>
  FILES.replace('package.json', `files/libre-franklin-latin-${weight}-normal.woff`);

/** A printed sheet, one page and more for each clip: poster, eight severities, evidence over time, plan. */
export const sheetOf = (
  { batch, production }: Pick<Report, 'batch' | 'production'>,
  clips: readonly SheetClip[],
): PDFKit.PDFDocument => {
  const pdf = opened(`${batch}: repair plan`);
  for (const clip of clips) {
    new ClipSheet(pdf, clip).draw();
    for (const recheck of clip.rechecks) new RecheckPage(pdf, recheck).draw();
  }
  if (clips.length === 0) {
    pdf.addPage();
    pdf.font('plain').fontSize(11).text('No clip of this batch has been measured yet.');
  }
  return closed(pdf, `${production} · ${batch}`);
};

/** The pages of one repaired file alone, as they go back with it. */
export const recheckSheet = (
  { batch, production }: Pick<Report, 'batch' | 'production'>,
  recheck: SheetRecheck,
): PDFKit.PDFDocument => {
  const pdf = opened(`${recheck.recheck.original}: recheck`);
  new RecheckPage(pdf, recheck).draw();
  return closed(pdf, `${production} · ${batch}`);
};

const opened = (title: string): PDFKit.PDFDocument => {
  const pdf = new PDFDocument({
    size: 'A4',
    margin: PAGE.margin,
    bufferPages: true,
    autoFirstPage: false,
    info: { Title: title, Author: 'Bevrin' },
  });
  return pdf
    .registerFont('plain', font(400))
    .registerFont('strong', font(600))
    .registerFont('title', font(700));
};

/** Numbers the pages, and ends the document. */
const closed = (pdf: PDFKit.PDFDocument, whose: string): PDFKit.PDFDocument => {
  const { count } = pdf.bufferedPageRange();
  for (let page = 0; page < count; page++) {
    pdf.switchToPage(page);
    pdf
      .font('plain')
      .fontSize(7.5)
      .fillColor(SOFT)
      .text(whose, PAGE.margin, PAGE.height - 30, { lineBreak: false })
      .text(
        `${page + 1} of ${count}`,
        PAGE.width - PAGE.margin - pdf.widthOfString(`${page + 1} of ${count}`),
        PAGE.height - 30,
        { lineBreak: false },
      );
  }
  pdf.end();
  return pdf;
};
