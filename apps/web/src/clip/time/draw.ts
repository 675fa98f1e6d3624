import {
  DEFECTS,
  descriptorOf,
  type Defect,
  type Finding,
  type FrameNote,
  type Measurement,
} from '@bevrin/contract';
import { strengthOf, worstMomentOf } from '@bevrin/core/scoring';
import { timeText } from '../../parts/format.js';
import { hatchFor, INK } from '../../parts/hatch.js';
import type { InOut } from '../inOut.js';
import type { ReturnedLane } from '../recheck/useRechecking.js';
import { columnsOf, figuresOn, type TimeWindow } from './window.js';

export const STRIP = 36;
export const RULER = 19;
export const LANE = 19;
export const TALL = STRIP + RULER + DEFECTS.length * LANE;

const RULE = '#9b9b9b';
const HAIR = '#bcbcbc';
const SOFT = '#454545';
const FONT = '11.5px "Libre Franklin Variable", sans-serif';

export interface TimeSheet {
  readonly window: TimeWindow;
  readonly frames: number;
  readonly rate: number;
  readonly measurement: Measurement | null;
  readonly findings: readonly Finding[];
  /** A repaired file on the same ruler. */
  readonly returned: ReturnedLane | null;
  readonly notes: readonly FrameNote[];
  readonly inOut: InOut;
  readonly selected: Defect;
  readonly strip: HTMLImageElement | null;
  /** Pictures in the strip. */
  readonly pictures: number;
}

/** Draws everything that runs along time but the place where one is. Its cost follows the width, not the number of frames. */
export const drawTime = (pen: CanvasRenderingContext2D, width: number, sheet: TimeSheet): void => {
  pen.clearRect(0, 0, width, TALL);
  pen.font = FONT;
  pen.textBaseline = 'middle';
  const x = (frame: number): number =>
    ((frame - sheet.window.from) / (sheet.window.to - sheet.window.from)) * width;
  drawStrip(pen, width, sheet);
  DEFECTS.forEach((defect, i) => {
    const top = STRIP + RULER + i * LANE;
    if (defect === sheet.selected) {
      pen.fillStyle = '#eeeeee';
      pen.fillRect(0, top, width, LANE);
    }
    pen.fillStyle = HAIR;
    pen.fillRect(0, top, width, 1);
    drawLane(pen, width, top, defect, sheet, x);
  });
  drawRuler(pen, width, sheet, x);
  drawInOut(pen, width, sheet, x);
};

const drawStrip = (pen: CanvasRenderingContext2D, width: number, sheet: TimeSheet): void => {
  const { strip, pictures, window, frames } = sheet;
  pen.fillStyle = '#5f5f5f';
  pen.fillRect(0, 0, width, STRIP);
  if (!strip?.complete || strip.naturalWidth === 0) return;
  const [sw, sh] = [strip.naturalWidth / pictures, strip.naturalHeight];
  const w = (STRIP * sw) / sh;
  for (let left = 0; left < width; left += w) {
    const frame = window.from + ((left + w / 2) / width) * (window.to - window.from);
    const n = Math.max(0, Math.min(pictures - 1, Math.floor((frame / frames) * pictures)));
    pen.drawImage(strip, n * sw, 0, sw, sh, left, 0, w - 1, STRIP - 1);
  }
};

const drawRuler = (
  pen: CanvasRenderingContext2D,
  width: number,
  { window, rate, measurement, notes }: TimeSheet,
  x: (frame: number) => number,
): void => {
  pen.fillStyle = INK;
  pen.fillRect(0, STRIP + RULER - 1, width, 1);
  for (const frame of figuresOn(window, rate)) {
    const left = x(frame);
    pen.fillStyle = RULE;
    pen.fillRect(left, STRIP, 1, RULER);
    if (left > width - 60) continue;
    pen.fillStyle = SOFT;
    // Clear of the line that marks where one is.
    pen.fillText(timeText(Math.round(frame), rate), left + 9, STRIP + RULER / 2);
  }
  for (const { startFrame } of measurement?.shots.slice(1) ?? []) {
    pen.fillStyle = INK;
    pen.fillRect(x(startFrame) - 1, STRIP - 1, 2, TALL - STRIP);
  }
  for (const { frame } of notes) {
    // A flag on a pole.
    const left = x(frame + 0.5);
    pen.fillStyle = INK;
    pen.fillRect(left, STRIP + 2, 1.5, RULER - 3);
    pen.beginPath();
    pen.moveTo(left, STRIP + 2);
    pen.lineTo(left + 9, STRIP + 5.5);
    pen.lineTo(left, STRIP + 9);
    pen.fill();
  }
};

const drawInOut = (
  pen: CanvasRenderingContext2D,
  width: number,
  { inOut: { from, to } }: TimeSheet,
  x: (frame: number) => number,
): void => {
  pen.fillStyle = 'rgba(95, 95, 95, 0.45)';
  if (from !== null) pen.fillRect(0, 0, Math.max(0, x(from)), TALL);
  if (to !== null) pen.fillRect(x(to + 1), 0, Math.max(0, width - x(to + 1)), TALL);
  pen.fillStyle = INK;
  for (const [at, side] of [
    [from, 1],
    [to === null ? null : to + 1, -1],
  ] as const) {
    if (at === null) continue;
    pen.fillRect(x(at) - 1, STRIP, 2, RULER);
    pen.fillRect(side > 0 ? x(at) : x(at) - 6, STRIP, 6, 2);
    pen.fillRect(side > 0 ? x(at) : x(at) - 6, STRIP + RULER - 3, 6, 2);
  }
};

interface Lane {
  readonly strength: readonly (number | null)[];
  /** What fills the height of the lane. */
  readonly span: number;
}

const known = new WeakMap<Measurement, Partial<Record<Defect, Lane>>>();

/** What the lanes draw, worked out once for each measurement: a long clip is redrawn with every turn of the wheel. */
const lanesOf = (measurement: Measurement): Partial<Record<Defect, Lane>> => {
  const before = known.get(measurement);
  if (before) return before;
  const lanes: Partial<Record<Defect, Lane>> = {};
  for (const defect of DEFECTS) {
    const strength = strengthOf(measurement.readings, defect);
    if (!strength) continue;
    const span = strength.reduce<number>(
      (most, v) => Math.max(most, v ?? 0),
      descriptorOf(defect).plainStrength ?? 1,
    );
    lanes[defect] = { strength, span };
  }
  known.set(measurement, lanes);
  return lanes;
};

const drawLane = (
  pen: CanvasRenderingContext2D,
  width: number,
  top: number,
  defect: Defect,
  { window, frames, measurement, findings, returned }: TimeSheet,
  x: (frame: number) => number,
): void => {
  const reading = measurement?.readings[defect];
  if (!measurement || !reading) return;
  if (reading.state === 'notMeasurable') {
    pen.fillStyle = SOFT;
    pen.fillText(`not measured: ${reading.reason}`, 8, top + LANE / 2 + 1, width - 16);
    return;
  }
  const finding = findings.find((f) => f.defect === defect);
  const floor = top + LANE - 1;
  const room = LANE - 3;
  const lane = lanesOf(measurement)[defect];
  const over = returned && lanesOf(returned.measurement)[defect];
  pen.fillStyle = inkOf(pen, finding);
  if (lane) {
    const { strength } = lane;
    // What got worse stands as high beside what it was.
    const span = Math.max(lane.span, over?.span ?? 0);
    const columns = columnsOf(strength, window, Math.max(1, Math.round(width)));
    columns.forEach((v, c) => {
      if (v === null) return;
      const tall = (v / span) * room;
      if (tall > 0.3) pen.fillRect(c, floor - tall, 1, tall);
    });
    outline(pen, columns, span, floor, room);
    if (over) drawReturned(pen, over.strength, returned, { window, width, span, floor, room });
  } else if (finding && finding.value !== null && finding.severity > 0) {
    // What is there all the time: a bar as tall as its severity.
    const tall = Math.max(1, (finding.severity / 100) * room);
    const [left, right] = [x(finding.startFrame), x(finding.endFrame + 1)];
    pen.fillRect(left, floor - tall, right - left, tall);
    pen.strokeStyle = INK;
    pen.lineWidth = 0.75;
    pen.strokeRect(left, floor - tall, right - left, tall);
  }
  if (!finding || finding.verdict === 'pass' || finding.value === null) return;
  const worst = worstMomentOf(measurement, defect);
  if (!worst || worst.frame >= frames) return;
  const at = x(worst.frame + 0.5);
  pen.fillStyle = INK;
  pen.strokeStyle = '#f4f4f4';
  pen.lineWidth = 2;
  pen.beginPath();
  pen.moveTo(at - 4, top + 1);
  pen.lineTo(at + 4, top + 1);
  pen.lineTo(at, top + 8);
  pen.closePath();
  pen.stroke();
  pen.fill();
};

/** The curve of a repaired file over that of its original: a thick line with a pale edge, which is seen on any ground. */
const drawReturned = (
  pen: CanvasRenderingContext2D,
  strength: readonly (number | null)[],
  { offset }: ReturnedLane,
  {
    window,
    width,
    span,
    floor,
    room,
  }: { window: TimeWindow; width: number; span: number; floor: number; room: number },
): void => {
  const own = { from: window.from - offset, to: window.to - offset };
  const columns = columnsOf(strength, own, Math.max(1, Math.round(width)));
  for (const [colour, thick] of [
    ['#f4f4f4', 4],
    [INK, 2],
  ] as const)
    outline(pen, columns, span, floor, room, colour, thick);
};

/** The upper edge of a lane, so that what is hatched or pale is read as a curve. */
const outline = (
  pen: CanvasRenderingContext2D,
  columns: readonly (number | null)[],
  span: number,
  floor: number,
  room: number,
  colour = INK,
  thick = 1,
): void => {
  pen.strokeStyle = colour;
  pen.lineWidth = thick;
  pen.beginPath();
  let down = false;
  columns.forEach((v, c) => {
    if (v === null) {
      down = false;
      return;
    }
    const y = floor - (v / span) * room;
    if (down) pen.lineTo(c + 0.5, y);
    else pen.moveTo(c + 0.5, y);
    down = true;
  });
  pen.stroke();
};

/** Solid where it fails, hatched where it is marginal, pale where it passes. */
const inkOf = (pen: CanvasRenderingContext2D, finding: Finding | undefined): string | CanvasPattern => {
  if (finding?.verdict === 'fail') return INK;
  if (finding?.verdict !== 'marginal') return '#c4c4c4';
  return hatchFor(pen);
};
