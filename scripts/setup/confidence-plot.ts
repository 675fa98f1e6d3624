import { median } from '../../packages/core/src/maths/robust.js';

/** A reading: how sure it says it is, 0–1, and how far off it is, in first bars. */
export interface Surety {
  readonly confidence: number;
  readonly error: number;
}

const WIDTH = 640;
const HEIGHT = 320;
const MARGIN = { left: 56, right: 16, top: 16, bottom: 44 };
/** Errors beyond this many bars are drawn at the top. */
const MOST = 2;
/** Readings whose median makes a point of the line, the least sure first. */
const WINDOW = 21;
const INK = '#222';
const GREY = '#777';

const x = (confidence: number): number => MARGIN.left + confidence * (WIDTH - MARGIN.left - MARGIN.right);
const y = (error: number): number =>
  HEIGHT - MARGIN.bottom - (Math.min(MOST, error) / MOST) * (HEIGHT - MARGIN.top - MARGIN.bottom);
const at = (confidence: number, error: number): string =>
  `${x(confidence).toFixed(1)},${y(error).toFixed(1)}`;

/** The running median of the error over readings sorted by confidence. */
export const courseOf = (readings: readonly Surety[]): Surety[] => {
  const sorted = [...readings].sort((a, b) => a.confidence - b.confidence);
  return Array.from({ length: Math.max(0, sorted.length - WINDOW + 1) }, (_, i) => {
    const part = sorted.slice(i, i + WINDOW);
    return {
      confidence: median(part.map((r) => r.confidence)),
      error: median(part.map((r) => r.error)),
    };
  });
};

/** Error over confidence as a drawing: a dot a reading, the running median as a line, the first bar hatched in. */
export const confidencePlot = (readings: readonly Surety[], title: string): string => {
  const ticks = [0, 0.2, 0.4, 0.6, 0.8, 1];
  const text = (px: number, py: number, words: string, anchor = 'middle'): string =>
    `<text x="${px.toFixed(1)}" y="${py.toFixed(1)}" text-anchor="${anchor}">${words}</text>`;
  const line = (from: string, to: string, more = ''): string =>
    `<polyline points="${from} ${to}" fill="none" stroke="${GREY}" stroke-width="0.5"${more}/>`;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}" font-family="sans-serif" font-size="11" fill="${INK}">`,
    `<title>${title}</title>`,
    `<rect width="${WIDTH}" height="${HEIGHT}" fill="#fff"/>`,
    line(at(0, 0), at(1, 0)),
    line(at(0, 0), at(0, MOST)),
    line(at(0, 1), at(1, 1), ' stroke-dasharray="5 4"'),
    text(x(0) + 4, y(1) - 5, 'first bar', 'start'),
    ...ticks.map((t) => text(x(t), y(0) + 16, String(t))),
    ...[0, 0.5, 1, 1.5, MOST].map((e) => text(x(0) - 8, y(e) + 4, e === MOST ? `${e}+` : String(e), 'end')),
    text((x(0) + x(1)) / 2, HEIGHT - 8, 'confidence that the reading states'),
    `<text transform="translate(14 ${((y(0) + y(MOST)) / 2).toFixed(1)}) rotate(-90)" text-anchor="middle">error, first bars</text>`,
    ...readings.map(
      (r) =>
        `<circle cx="${x(r.confidence).toFixed(1)}" cy="${y(r.error).toFixed(1)}" r="2" fill="none" stroke="${GREY}"/>`,
    ),
    `<polyline points="${courseOf(readings)
      .map((r) => at(r.confidence, r.error))
      .join(' ')}" fill="none" stroke="${INK}" stroke-width="1.5"/>`,
    '</svg>',
    '',
  ].join('\n');
};
