import { typed } from './sheet-words.js';

/** A4, points. */
export const PAGE = { width: 595.28, height: 841.89, margin: 40 };
export const INNER = PAGE.width - 2 * PAGE.margin;
/** Pictures of evidence, as many as stand side by side. */
export const THUMB = { width: 122, height: 92, gap: 9, most: 4 };
export const INK = '#141414';
export const SOFT = '#454545';
export const RULE = '#9b9b9b';

/** What is written down a page from its top, and goes on at the top of the next. */
export class SheetPage {
  protected y = PAGE.margin;

  /** @param title what a page that goes on is headed by */
  constructor(
    protected readonly pdf: PDFKit.PDFDocument,
    private readonly title: string,
  ) {}

  /** @returns where the text ends */
  protected text(text: string, x: number, y: number, width: number, size = 8.5, face = 'plain'): number {
    const { pdf } = this;
    pdf.font(face).fontSize(size).fillColor(INK).text(typed(text), x, y, { width });
    return pdf.y;
  }

  protected rule(y: number, weight = 0.5, colour = INK): void {
    this.pdf
      .moveTo(PAGE.margin, y)
      .lineTo(PAGE.width - PAGE.margin, y)
      .lineWidth(weight)
      .stroke(colour);
  }

  /** Goes on at the top of a new page where so much no longer fits. */
  protected room(height: number): void {
    if (this.y + height < PAGE.height - 50) return;
    this.pdf.addPage();
    this.y = PAGE.margin;
    this.text(`${this.title}, continued`, PAGE.margin, this.y, INNER, 9, 'strong');
    this.rule(this.y + 14);
    this.y += 22;
  }

  protected heading(text: string): void {
    this.room(40);
    this.text(text, PAGE.margin, this.y, INNER, 9, 'strong');
    this.rule(this.y + 13);
    this.y += 18;
  }

  /** A word in a frame; a black one where it says no. */
  protected stamp(word: string, isNo: boolean, x: number, y: number, width: number): void {
    const { pdf } = this;
    pdf.rect(x, y, width, 18).lineWidth(1);
    if (isNo) pdf.fillAndStroke(INK, INK);
    else pdf.stroke(INK);
    pdf
      .font('strong')
      .fontSize(11)
      .fillColor(isNo ? '#ffffff' : INK)
      .text(word, x, y + 3, { width, align: 'center' });
  }

  /** A small picture with what it shows under it. @returns where it ends */
  protected picture(path: string, caption: string, x: number, y: number): number {
    const { pdf } = this;
    pdf.rect(x, y, THUMB.width, THUMB.height).fill('#5f5f5f');
    pdf.image(path, x, y, { fit: [THUMB.width, THUMB.height], align: 'center', valign: 'center' });
    return this.text(caption, x, y + THUMB.height + 3, THUMB.width, 7.5);
  }
}
