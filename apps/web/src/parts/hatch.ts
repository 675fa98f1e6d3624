export const INK = '#141414';
const PAPER = '#e2e2e2';
/** Where no pattern can be made, what is between ink and paper. */
const BETWEEN = '#6a6a6a';

/** The hatch of a marginal finding, for drawing on a canvas; on a page it is the pattern `hatch`. */
export const hatchFor = (pen: CanvasRenderingContext2D): CanvasPattern | string => {
  const tile = document.createElement('canvas');
  tile.width = tile.height = 4;
  const t = tile.getContext('2d');
  if (!t) return BETWEEN;
  t.fillStyle = PAPER;
  t.fillRect(0, 0, 4, 4);
  t.strokeStyle = INK;
  t.lineWidth = 1.2;
  t.beginPath();
  for (const shift of [-4, 0, 4]) {
    t.moveTo(shift, 4);
    t.lineTo(shift + 4, 0);
  }
  t.stroke();
  return pen.createPattern(tile, 'repeat') ?? BETWEEN;
};
