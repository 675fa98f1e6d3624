/** How a picture lies on the stage: so many screen pixels for one of its own, and the point of it in the middle. */
export interface View {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

export const MOST_SCALE = 8;
/** One turn of the wheel by 100 units. */
const WHEEL_STEP = 1.25;

/** The whole picture, as large as it goes in. */
export const wholeView = (picture: Size, stage: Size): View => ({
  scale: Math.min(stage.width / picture.width, stage.height / picture.height) || 1,
  x: picture.width / 2,
  y: picture.height / 2,
});

/** A point of the stage, in pixels of the picture. */
export const toPicture = (view: View, stage: Size, sx: number, sy: number): readonly [number, number] => [
  view.x + (sx - stage.width / 2) / view.scale,
  view.y + (sy - stage.height / 2) / view.scale,
];

/** A point of the picture, on the stage. */
export const toStage = (view: View, stage: Size, x: number, y: number): readonly [number, number] => [
  stage.width / 2 + (x - view.x) * view.scale,
  stage.height / 2 + (y - view.y) * view.scale,
];

/** A picture that is larger than the stage covers it; a smaller one lies in its middle. */
const kept = (view: View, picture: Size, stage: Size): View => {
  const along = (at: number, size: number, room: number): number => {
    const half = room / 2 / view.scale;
    return size * view.scale <= room ? size / 2 : Math.max(half, Math.min(size - half, at));
  };
  return {
    ...view,
    x: along(view.x, picture.width, stage.width),
    y: along(view.y, picture.height, stage.height),
  };
};

/** Another scale about a point of the stage: what is under it stays there. */
export const scaledAbout = (
  view: View,
  picture: Size,
  stage: Size,
  scale: number,
  sx = stage.width / 2,
  sy = stage.height / 2,
): View => {
  const least = Math.min(1, wholeView(picture, stage).scale);
  const to = Math.max(least, Math.min(MOST_SCALE, scale));
  const [x, y] = toPicture(view, stage, sx, sy);
  return kept(
    { scale: to, x: x - (sx - stage.width / 2) / to, y: y - (sy - stage.height / 2) / to },
    picture,
    stage,
  );
};

/** The scale after the wheel was turned. */
export const wheeled = (scale: number, turned: number): number => scale * WHEEL_STEP ** (-turned / 100);

/** Moved by so many screen pixels. */
export const panned = (view: View, picture: Size, stage: Size, dx: number, dy: number): View =>
  kept({ ...view, x: view.x - dx / view.scale, y: view.y - dy / view.scale }, picture, stage);

/** A place of the picture in the middle of the stage. */
export const viewOf = (picture: Size, stage: Size, x: number, y: number, scale: number): View =>
  kept({ scale, x, y }, picture, stage);

/** The part of the picture that is seen. */
export const seenPart = (view: View, picture: Size, stage: Size): { x: number; y: number } & Size => {
  const [left, top] = toPicture(view, stage, 0, 0);
  const [right, bottom] = toPicture(view, stage, stage.width, stage.height);
  const x = Math.max(0, left);
  const y = Math.max(0, top);
  return { x, y, width: Math.min(picture.width, right) - x, height: Math.min(picture.height, bottom) - y };
};
