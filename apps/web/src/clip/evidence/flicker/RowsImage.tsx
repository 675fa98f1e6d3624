import { useEffect, useRef } from 'react';
import type { ValuesOf } from '@bevrin/contract';

const TALL = 120;
const GUTTER = 46;

interface Props {
  readonly rows: NonNullable<ValuesOf<'flicker'>['rows']>;
  readonly rate: number;
  readonly frame: number;
  readonly onGo: (frame: number) => void;
}

/** Light of each row band against time, as a picture: bars that roll are stripes that lean. */
export const RowsImage = ({ rows: { startFrame, lightPct }, rate, frame, onGo }: Props) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frames = lightPct[0]?.length ?? 0;
  const most = lightPct.flat().reduce<number>((m, v) => Math.max(m, Math.abs(v ?? 0)), 0.1);
  useEffect(() => {
    const pen = canvas.current?.getContext('2d');
    if (!pen || frames === 0) return;
    const image = pen.createImageData(frames, lightPct.length);
    lightPct.forEach((band, y) =>
      band.forEach((v, x) => {
        // What is not known is left as the paper.
        const grey = v === null ? 226 : 128 + (110 * v) / most;
        image.data.set([grey, grey, grey, 255], 4 * (y * frames + x));
      }),
    );
    pen.putImageData(image, 0, 0);
  }, [lightPct, frames, most]);
  const at = ((frame - startFrame + 0.5) / frames) * 100;
  return (
    <figure className="mt-3">
      <figcaption className="heading">Rows against time: light about its slow course</figcaption>
      <div className="grid pt-1 text-xs text-soft" style={{ gridTemplateColumns: `${GUTTER}px 1fr` }}>
        <div className="flex flex-col justify-between pr-1 text-right" style={{ height: TALL }}>
          <span>top</span>
          <span>rows</span>
          <span>bottom</span>
        </div>
        <div
          className="relative cursor-crosshair"
          onClick={(e) => {
            const { left, width } = e.currentTarget.getBoundingClientRect();
            onGo(startFrame + Math.floor(((e.clientX - left) / width) * frames));
          }}
        >
          <canvas
            ref={canvas}
            width={Math.max(1, frames)}
            height={Math.max(1, lightPct.length)}
            role="img"
            aria-label="Light of each row band over time"
            className="block w-full border border-rule"
            style={{ height: TALL, imageRendering: 'pixelated' }}
          />
          {at >= 0 && at <= 100 && (
            <span
              className="absolute inset-y-0 w-px bg-ink outline outline-[0.5px] outline-white"
              style={{ left: `${at}%` }}
            />
          )}
        </div>
        <span />
        <span className="flex justify-between">
          <span>{(startFrame / rate).toFixed(1)} s</span>
          <span>
            black {(-most).toFixed(1)} %, white +{most.toFixed(1)} %
          </span>
          <span>{((startFrame + frames) / rate).toFixed(1)} s</span>
        </span>
      </div>
    </figure>
  );
};
