/** In and out point, as far as they are set; both frames are inside. */
export interface InOut {
  readonly from: number | null;
  readonly to: number | null;
}

export const NO_IN_OUT: InOut = { from: null, to: null };

/** The in point at a frame; an out point before it is taken away. */
export const inAt = ({ to }: InOut, frame: number): InOut => ({
  from: frame,
  to: to !== null && to < frame ? null : to,
});

/** The out point at a frame; an in point behind it is taken away. */
export const outAt = ({ from }: InOut, frame: number): InOut => ({
  from: from !== null && from > frame ? null : from,
  to: frame,
});
