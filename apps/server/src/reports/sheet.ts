import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import type { Report } from '@bevrin/contract';
import { ClipSheet, PAGE, SOFT, type SheetClip } from './clip-sheet.js';

const FILES = createRequire(import.meta.url).resolve('@fontsource/libre-franklin/package.json');
const font = (weight: number): string =>
  FILES.replace('package.json', `files/libre-franklin-latin-${weight}-normal.woff`);

/** A printed sheet, one page and more for each clip: poster, eight severities, evidence over time, plan. */
export const sheetOf = (report: Report, clips: readonly SheetClip[]): PDFKit.PDFDocument => {
  const pdf = new PDFDocument({
    size: 'A4',
    margin: PAGE.margin,
    bufferPages: true,
    autoFirstPage: false,
    info: { Title: `${report.batch}: repair plan`, Author: 'Bevrin' },
  });
  pdf.registerFont('plain', font(400)).registerFont('strong', font(600)).registerFont('title', font(700));
  for (const clip of clips) new ClipSheet(pdf, clip).draw();
  if (clips.length === 0) {
    pdf.addPage();
    pdf.font('plain').fontSize(11).text('No clip of this batch has been measured yet.');
  }
  const { count } = pdf.bufferedPageRange();
  for (let page = 0; page < count; page++) {
    pdf.switchToPage(page);
    pdf
      .font('plain')
      .fontSize(7.5)
      .fillColor(SOFT)
      .text(`${report.production} · ${report.batch}`, PAGE.margin, PAGE.height - 30, { lineBreak: false })
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
