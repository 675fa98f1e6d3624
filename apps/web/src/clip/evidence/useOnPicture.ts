import { useEffect, useState } from 'react';
import type { Measurement } from '@bevrin/contract';
import type { FollowedTile } from '@bevrin/core/inspect';
import { pictures } from '../picture/pictures.js';
import type { FrameName } from '../picture/worker.js';

/** Which places follow the camera at a frame; `null` while it is not known. */
export const useTiles = (name: FrameName | null): readonly FollowedTile[] | null => {
  const [state, setState] = useState<{ name: FrameName; tiles: readonly FollowedTile[] | null } | null>(null);
  useEffect(() => {
    if (!name) return;
    let gone = false;
    pictures()
      .tiles(name)
      .then((tiles) => !gone && setState({ name, tiles }))
      .catch(() => undefined);
    return () => void (gone = true);
  }, [name]);
  return state && state.name === name ? state.tiles : null;
};

/** Contours of code values in the banded places of a frame, to lay over the picture. */
export const useContours = (name: FrameName | null, measurement: Measurement | null): ImageBitmap | null => {
  const [state, setState] = useState<{ name: FrameName; bitmap: ImageBitmap } | null>(null);
  const reading = measurement?.readings.banding;
  useEffect(() => {
    if (!name || reading?.state !== 'measured' || reading.regions.length === 0) return;
    let gone = false;
    pictures()
      .contours(name, reading.regions)
      .then((bitmap) => {
        if (gone) bitmap.close();
        else setState({ name, bitmap });
      })
      .catch(() => undefined);
    return () => void (gone = true);
  }, [name, reading]);
  useEffect(() => () => state?.bitmap.close(), [state]);
  return state && state.name === name ? state.bitmap : null;
};
