import {
  amount,
  findingName,
  HARM_NAMES,
  RECHECK_VERDICT_NAMES,
  type ClipRecheck,
  type Recheck,
} from '@bevrin/contract';
import { INNER, PAGE, RULE, SheetPage, THUMB } from './sheet-page.js';

/** A recheck as it is printed. */
export interface SheetRecheck {
  readonly of: ClipRecheck;
  readonly recheck: Recheck;
  /** The worst places, in pictures of both files. */
  readonly evidence: readonly { readonly before: string; readonly after: string; readonly caption: string }[];
}

const not = (value: number | null, unit: string): string => (value === null ? 'n/m' : amount(value, unit));

/** Less than this is how well two files can be laid on each other, %. */
const LEAST_CROP = 0.1;

/** A column of a table: its heading, where it begins, and how wide it is, points. */
type Column = readonly [heading: string, x: number, width: number];
const READINGS: readonly Column[] = [
  ['Finding', 0, 130],
  ['Before', 134, 66],
  ['After', 204, 66],
  ['Expected', 274, 66],
  ['Limit', 344, 66],
  ['Now', 414, 100],
];
const HARM: readonly Column[] = [
  ['Harm', 0, 200],
  ['Found', 204, 66],
  ['Limit', 274, 66],
  ['Verdict', 344, 66],
  ['Worst', 414, 100],
];

/** The pages of a repaired file: what was found, what speaks against it, and pictures of both at the worst places. */
export class RecheckPage extends SheetPage {
  constructor(
    pdf: PDFKit.PDFDocument,
    private readonly sheet: SheetRecheck,
  ) {
    super(pdf, `${sheet.recheck.original}, version ${sheet.of.version}`);
  }

  draw(): void {
    this.pdf.addPage();
    this.head();
    this.reasons();
    this.evidence();
    this.table(
      'Before and after',
      READINGS,
      this.sheet.recheck.readings.map((r) => [
        findingName(r),
        not(r.before, r.unit),
        not(r.after, r.unit),
        r.expected === null ? '' : amount(r.expected, r.unit),
        amount(r.pass, r.unit),
        r.verdictAfter === r.verdictBefore ? r.verdictAfter : `${r.verdictAfter}, was ${r.verdictBefore}`,
      ]),
    );
    this.table(
      'What the repair harmed',
      HARM,
      this.sheet.recheck.harmJudged.map(({ name, value, pass, verdict, at }) => {
        const [, words = name, unit = ''] = HARM_NAMES.find(([n]) => n === name) ?? [];
        return [words, not(value, unit), amount(pass, unit), verdict, at ? `frame ${at.frame}` : ''];
      }),
    );
  }

  private head(): void {
    const { of, recheck } = this.sheet;
    this.rule(this.y, 2);
    this.y += 10;
    const left = PAGE.margin;
    let y = this.text(recheck.original, left, this.y - 2, INNER, 15, 'title') + 2;
    y = this.text(
      `Version ${of.version}, ${of.file}, returned by ${of.who}, ${of.createdAt.slice(0, 10)}. Judged under ${recheck.spec.name}, version ${recheck.spec.version}. Frames are counted in the repaired file.`,
      left,
      y,
      INNER,
    );
    if (recheck.alignment) {
      const { frameOffset, cropPct, steadied } = recheck.alignment;
      y = this.text(
        `It begins with frame ${frameOffset} of the original${steadied ? ', and was steadied' : ''}; ${cropPct >= LEAST_CROP ? `${amount(cropPct, '%')} of the picture are` : 'no picture is'} gone.`,
        left,
        y + 2,
        INNER,
      );
    }
    const { signed } = of;
    if (signed)
      y = this.text(
        [
          `${signed.how === 'signedOff' ? 'Signed off' : 'Sent back'} by ${signed.who}, ${signed.at.slice(0, 16).replace('T', ' ')}.`,
          signed.assignee && `To be repaired by ${signed.assignee}.`,
          signed.reason,
        ]
          .filter(Boolean)
          .join(' '),
        left,
        y + 2,
        INNER,
        8.5,
        'strong',
      );
    const verdict = of.verdict ?? recheck.verdict;
    this.stamp(RECHECK_VERDICT_NAMES[verdict], verdict === 'sendBack', left, y + 8, 160);
    this.y = y + 40;
  }

  private reasons(): void {
    const { of, recheck } = this.sheet;
    this.heading('Why');
    for (const [i, says] of recheck.because.entries()) {
      const waived = of.waived.find((w) => w.about === recheck.reasons[i]?.about);
      this.room(24);
      this.y =
        this.text(
          waived ? `${says} Let stand by ${waived.who}: ${waived.reason}` : says,
          PAGE.margin,
          this.y,
          INNER,
          8.5,
          waived ? 'plain' : 'strong',
        ) + 3;
    }
    this.y += 6;
  }

  /** Both files at the worst places: what was, and under it what is. */
  private evidence(): void {
    const { evidence } = this.sheet;
    if (evidence.length === 0) return;
    this.room(2 * THUMB.height + 80);
    this.heading('At its worst: as it came above, repaired below');
    let bottom = this.y;
    evidence.slice(0, THUMB.most).forEach(({ before, after, caption }, i) => {
      const x = PAGE.margin + i * (THUMB.width + THUMB.gap);
      const below = this.picture(before, 'as it came', x, this.y);
      bottom = Math.max(bottom, this.picture(after, caption, x, below + 3));
    });
    this.y = bottom + 10;
  }

  private table(title: string, columns: readonly Column[], rows: readonly (readonly string[])[]): void {
    if (rows.length === 0) return;
    // A table begins with a few of its rows, or on the next page.
    this.room(100);
    this.heading(title);
    const line = (cells: readonly string[], face: string): void => {
      this.room(16);
      let end = this.y;
      columns.forEach(([, x, width], i) => {
        end = Math.max(end, this.text(cells[i], PAGE.margin + x, this.y, width, 8, face));
      });
      this.y = end + 2;
      this.rule(this.y, 0.4, RULE);
      this.y += 3;
    };
    line(
      columns.map(([heading]) => heading),
      'strong',
    );
    for (const row of rows) line(row, 'plain');
    this.y += 8;
  }
}
