import { existsSync } from 'node:fs';
import {
  amount,
  asWords,
  DEFECT_NAMES,
  DEFECTS,
  findingName,
  isOfReading,
  passedUnseen,
  rationalToNumber,
  seriesOf,
  settingOrder,
  settingWords,
  TREATMENT_NAMES,
  type Finding,
  type Measurement,
  type ReportClip,
  type TreatmentName,
  type TriedStep,
} from '@bevrin/contract';
import { INK, INNER, PAGE, RULE, SheetPage, SOFT, THUMB } from './sheet-page.js';
import type { SheetRecheck } from './recheck-page.js';
import { harmText, shown, underText } from './sheet-words.js';

const MOST_NOTES = 4;

/** What a sheet needs beyond the report itself. */
export interface SheetClip {
  readonly report: ReportClip;
  readonly measurement: Measurement;
  /** A small picture of the clip; left out where there is none. */
  readonly poster: string | null;
  /** Where the findings are at their worst, in pictures. */
  readonly evidence: readonly { readonly path: string; readonly caption: string }[];
  /** Repaired files that came back and were rechecked. */
  readonly rechecks: readonly SheetRecheck[];
  /** Of steps that were tried a place before and after, by treatment; left out where the frames are not kept. */
  readonly tried: Partial<Record<TreatmentName, { readonly before: string; readonly after: string }>>;
}

const amountOr = (value: number | null, unit: string): string =>
  value === null ? 'not measured' : amount(value, unit);

/** The pages of one clip. */
export class ClipSheet extends SheetPage {
  constructor(
    pdf: PDFKit.PDFDocument,
    private readonly sheet: SheetClip,
  ) {
    super(pdf, sheet.report.clip.file);
  }

  draw(): void {
    this.pdf.addPage();
    this.head();
    this.severities();
    this.evidence();
    this.overTime();
    this.findings();
    this.beside();
    this.steps();
  }

  private head(): void {
    const { clip, spec, verdict, plan, note, frameNotes } = this.sheet.report;
    const { pdf } = this;
    const { poster } = this.sheet;
    const pictured = poster !== null && existsSync(poster);
    const left = PAGE.margin + (pictured ? 176 : 0);
    const wide = INNER - (pictured ? 176 : 0);
    this.rule(this.y, 2);
    this.y += 10;
    if (pictured) {
      pdf.rect(PAGE.margin, this.y, 164, 93).fill('#5f5f5f');
      pdf.image(poster, PAGE.margin, this.y, {
        fit: [164, 93],
        align: 'center',
        valign: 'center',
      });
    }
    let y = this.text(clip.file, left, this.y - 2, wide, 15, 'title') + 2;
    const rate = Number(rationalToNumber(clip.frameRate).toFixed(3));
    y = this.text(
      `${clip.width} × ${clip.height}, ${rate} frames a second, ${clip.scan}, ${clip.codec} ${clip.bitDepth} bit, ${clip.frames} frames (${clip.durationSec.toFixed(2)} s)`,
      left,
      y,
      wide,
    );
    y = this.text(`Judged under ${spec.name}, version ${spec.version}.`, left, y + 2, wide);
    if (plan.assignee) y = this.text(`Assigned to ${plan.assignee}.`, left, y + 2, wide);
    if (plan.approved)
      y = this.text(`Approved by ${plan.approved.who}, ${plan.approved.at.slice(0, 10)}.`, left, y + 2, wide);
    if (note) y = this.text(`Note: ${note}`, left, y + 2, wide);
    for (const n of frameNotes.slice(0, MOST_NOTES))
      y = this.text(`Frame ${n.frame}: ${n.text} (${n.who})`, left, y + 2, wide);
    const under = underText(this.sheet.measurement.measuredUnder);
    if (under) y = this.text(under, left, y + 2, wide);
    this.stamp(verdict, verdict === 'fail', left, y + 8, 84);
    if (plan.verdict !== verdict)
      this.text(
        `${plan.verdict} with ${plan.waived.length + plan.disputed.length} set aside`,
        left + 94,
        y + 12,
        wide - 94,
      );
    this.y = Math.max(this.y + 93, y + 26) + 14;
  }

  /** One bar for each defect, as tall as its severity; plain, hatched or solid by verdict. */
  private severities(): void {
    this.heading('Severity, 0 to 100');
    const { pdf } = this;
    const { findings } = this.sheet.report;
    const step = INNER / DEFECTS.length;
    const tall = 46;
    const base = this.y + tall + 10;
    DEFECTS.forEach((defect, i) => {
      const finding = findings.find((f) => f.defect === defect);
      const x = PAGE.margin + i * step;
      const height = finding && finding.value !== null ? Math.max(1, (finding.severity / 100) * tall) : 0;
      if (finding && height > 0) this.bar(x + step / 2 - 9, base - height, 18, height, finding.verdict);
      pdf
        .moveTo(x + 8, base)
        .lineTo(x + step - 8, base)
        .lineWidth(0.8);
      if (height > 0) pdf.stroke(INK);
      else pdf.dash(2, { space: 2 }).stroke(INK).undash();
      const figure = !finding ? 'no limit' : finding.value === null ? 'n/m' : String(finding.severity);
      pdf
        .font('strong')
        .fontSize(8.5)
        .fillColor(INK)
        .text(figure, x, base + 3, { width: step, align: 'center' })
        .font('plain')
        .fontSize(7.5)
        .fillColor(SOFT)
        .text(DEFECT_NAMES[defect], x, base + 14, { width: step, align: 'center' });
    });
    this.y = base + 32;
  }

  private bar(x: number, y: number, width: number, height: number, verdict: Finding['verdict']): void {
    const { pdf } = this;
    if (verdict === 'fail') {
      pdf.rect(x, y, width, height).fill(INK);
      return;
    }
    pdf.rect(x, y, width, height).fill('#d8d8d8');
    if (verdict === 'marginal') {
      pdf.save().rect(x, y, width, height).clip();
      for (let d = -height; d < width; d += 4)
        pdf
          .moveTo(x + d, y + height)
          .lineTo(x + d + height, y)
          .lineWidth(1)
          .stroke(INK);
      pdf.restore();
    }
    pdf.rect(x, y, width, height).lineWidth(0.5).stroke(INK);
  }

  /** The findings at their worst, side by side. */
  private evidence(): void {
    const { evidence } = this.sheet;
    if (evidence.length === 0) return;
    this.room(THUMB.height + 60);
    this.heading('At its worst');
    let bottom = this.y;
    evidence.slice(0, THUMB.most).forEach(({ path, caption }, i) => {
      const x = PAGE.margin + i * (THUMB.width + THUMB.gap);
      bottom = Math.max(bottom, this.picture(path, caption, x, this.y));
    });
    this.y = bottom + 10;
  }

  /** What was measured frame by frame, on one ruler. */
  private overTime(): void {
    const { readings, clip } = this.sheet.measurement;
    const lanes = DEFECTS.flatMap((defect) => seriesOf(readings, defect)).map(
      ({ label, unit, values }) =>
        [`${label.charAt(0).toUpperCase()}${label.slice(1)}${unit && `, ${unit}`}`, values] as const,
    );
    const drawn = lanes.filter(([, series]) => series.some((v) => v !== null));
    if (drawn.length === 0) return;
    this.heading(`Over time, ${clip.durationSec.toFixed(2)} s`);
    const { pdf } = this;
    const [left, tall] = [PAGE.margin + 110, 30];
    const wide = PAGE.width - PAGE.margin - left;
    for (const [name, series] of drawn) {
      const known = series.filter((v) => v !== null);
      const [low, high] = [Math.min(...known), Math.max(...known)];
      const span = high - low || 1;
      this.text(name, PAGE.margin, this.y + 4, 60, 8);
      this.text(Number(high.toPrecision(3)).toString(), PAGE.margin + 62, this.y, 44, 7);
      this.text(Number(low.toPrecision(3)).toString(), PAGE.margin + 62, this.y + tall - 9, 44, 7);
      let drawing = false;
      series.forEach((v, f) => {
        if (v === null) {
          drawing = false;
          return;
        }
        const x = left + (wide * f) / Math.max(1, series.length - 1);
        const y = this.y + tall - 2 - ((tall - 4) * (v - low)) / span;
        if (drawing) pdf.lineTo(x, y);
        else pdf.moveTo(x, y);
        drawing = true;
      });
      pdf.lineWidth(0.7).stroke(INK);
      this.y += tall;
      this.rule(this.y, 0.4, RULE);
      this.y += 4;
    }
    this.y += 6;
  }

  private findings(): void {
    const { findings, plan } = this.sheet.report;
    const shown = findings.filter((f) => f.verdict !== 'pass');
    const untold = findings.filter(passedUnseen).map(findingName);
    this.heading(
      shown.length > 0
        ? 'Findings'
        : `Findings: everything${untold.length > 0 ? ' that was told' : ''} is within its limits`,
    );
    for (const f of shown) {
      const waived = plan.waived.find(isOfReading(f));
      const disputed = plan.disputed.find(isOfReading(f));
      this.room(28);
      const top = this.y;
      this.text(findingName(f), PAGE.margin, top, 86, 8.5, 'strong');
      this.text(amountOr(f.value, f.unit), PAGE.margin + 90, top, 70);
      this.text(
        disputed ? 'no defect' : waived ? 'waived' : f.verdict,
        PAGE.margin + 164,
        top,
        54,
        8.5,
        'strong',
      );
      const end = this.text(
        [f.because, disputed && `No defect: ${disputed.reason}`, waived && `Waived: ${waived.reason}`]
          .filter(Boolean)
          .join(' '),
        PAGE.margin + 222,
        top,
        INNER - 222,
      );
      this.y = Math.max(end, top + 12) + 3;
      this.rule(this.y, 0.4, RULE);
      this.y += 4;
    }
    if (untold.length > 0)
      this.y =
        this.text(`Could not be told on this clip: ${asWords(untold)}.`, PAGE.margin, this.y, INNER) + 3;
    this.y += 6;
  }

  /** How the clip differs from the others of its roll, and what would match it to them. */
  private beside(): void {
    const { beside } = this.sheet.report;
    if (beside.length === 0) return;
    this.heading(`Beside the other clips of ${beside[0].roll}`);
    for (const b of beside) {
      this.room(28);
      const top = this.y;
      this.text(b.verdict, PAGE.margin, top, 86, 8.5, 'strong');
      const end = this.text(`${b.because} ${b.match.words}`, PAGE.margin + 90, top, INNER - 90);
      this.y = Math.max(end, top + 12) + 3;
      this.rule(this.y, 0.4, RULE);
      this.y += 4;
    }
    this.y += 6;
  }

  /** What was tried for a step, and a place before and after side by side. @returns where it ends */
  private tried(treatment: TreatmentName, found: TriedStep, left: number, top: number, wide: number): number {
    const pair = this.sheet.tried[treatment];
    const { startFrame, endFrame } = found.range;
    let y = this.text(
      `Tried on frames ${startFrame} to ${endFrame}: ${found.because}`,
      left,
      top,
      wide,
      8.5,
      'strong',
    );
    if (found.run !== null) y = this.text(harmText(found), left, y + 1, wide, 8);
    if (!pair) return y;
    if (y + THUMB.height + 30 > PAGE.height - 50) {
      this.y = y;
      this.room(PAGE.height);
      y = this.y;
    }
    const bottom = y + 4;
    (
      [
        ['before', pair.before],
        ['after', pair.after],
      ] as const
    ).forEach(([name, path], i) => {
      const x = left + i * (THUMB.width + THUMB.gap);
      this.pdf.image(path, x, bottom, { fit: [THUMB.width, THUMB.height] });
      y = this.text(name, x, bottom + THUMB.height + 2, THUMB.width, 7.5);
    });
    return y;
  }

  private steps(): void {
    const { steps, dropped } = this.sheet.report.plan;
    this.heading(steps.length > 0 ? 'Repair plan, in the order of work' : 'Repair plan: nothing to do');
    const left = PAGE.margin + 22;
    const wide = INNER - 22;
    for (const s of steps) {
      this.room(96);
      const top = this.y;
      this.text(String(s.order), PAGE.margin, top, 20, 11, 'title');
      this.text(TREATMENT_NAMES[s.treatment], left, top, 220, 10, 'strong');
      this.text(
        `priority ${s.priority} · ${amount(s.expect.from, s.expect.unit)} to ${amount(s.expect.to, s.expect.unit)} · render ${s.cost.renderWeight} × · ${s.cost.artistMinutes} min${s.cost.cropPct > 0 ? ` · crop ${s.cost.cropPct} %` : ''}`,
        left + 190,
        top + 1.5,
        wide - 190,
        8,
      );
      let y = this.text(s.because, left, top + 15, wide);
      const settings = Object.entries(s.settings)
        .sort(([a], [b]) => settingOrder(a) - settingOrder(b))
        .map(([key, value]) => {
          const [name, unit] = settingWords(key);
          return `${name} ${shown(value)}${unit && ` ${unit}`}`;
        });
      y = this.text(`Start with: ${settings.join(' · ')}`, left, y + 1, wide);
      y = this.text(`Where: frames ${s.where.startFrame} to ${s.where.endFrame}.`, left, y + 1, wide);
      y = this.text(`Risks: ${s.risks.join(' ')}`, left, y + 1, wide);
      y = this.text(`Check: ${s.check.join(' ')}`, left, y + 1, wide);
      y = this.text(`If it fails: ${s.fallback.join(' ')}`, left, y + 1, wide);
      if (s.tried) y = this.tried(s.treatment, s.tried, left, y + 2, wide);
      if (s.note) y = this.text(`Note: ${s.note}`, left, y + 1, wide, 8.5, 'strong');
      this.y = y + 4;
      this.rule(this.y, 0.4, RULE);
      this.y += 6;
    }
    for (const { treatment, reason } of dropped) {
      this.room(20);
      this.y = this.text(`Not done: ${TREATMENT_NAMES[treatment]}. ${reason}`, left, this.y, wide) + 3;
    }
  }
}
