import { useEffect, useRef, useState } from 'react';
import type { ClipDetail, Measurement } from '@bevrin/contract';
import { SPECTRUM_SIDE } from '@bevrin/core/inspect';
import { amount } from '../../../parts/format.js';
import { pictures } from '../../picture/pictures.js';

/** So far below the strongest is shown as white, dB. */
const FLOOR_DB = -60;
const SHOWN_PX = 160;

interface Props {
  readonly clip: ClipDetail & { measurement: Measurement };
  readonly frame: number;
  readonly onGo: (frame: number) => void;
}

/** The patterns that were found: how fine they are, how they crawl, and what their spectrum looks like. */
export const PatternTable = ({ clip, frame, onGo }: Props) => {
  const { moire } = clip.measurement.readings;
  const patterns = moire.state === 'measured' ? moire.values.patterns : [];
  const [chosen, setChosen] = useState(0);
  if (patterns.length === 0) return null;
  const pattern = patterns[Math.min(chosen, patterns.length - 1)];
  return (
    <div className="mt-2">
      <ul className="max-h-36 overflow-auto" aria-label="Patterns">
        {patterns.map((p, i) => (
          <li key={i}>
            <button
              aria-pressed={p === pattern}
              onClick={() => {
                setChosen(i);
                onGo(p.startFrame);
              }}
              className={`grid w-full grid-cols-[1.6rem_4rem_6.5rem_1fr] border-b border-hair py-0.5 text-left ${p === pattern ? 'bg-ink text-white' : 'hover:bg-slip'}`}
            >
              <span>{i + 1}</span>
              <span>{p.kind}</span>
              <span>period {amount(p.periodPx, 'px')}</span>
              <span>
                {p.crawlPxPerFrame === null
                  ? 'no luma detail beside it'
                  : `crawls ${amount(p.crawlPxPerFrame, 'px')} a frame against it`}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <LocalSpectrum clip={clip} frame={frame} pattern={pattern} />
    </div>
  );
};

const LocalSpectrum = ({
  clip,
  frame,
  pattern: { x, y, width, height },
}: {
  clip: Props['clip'];
  frame: number;
  pattern: { x: number; y: number; width: number; height: number };
}) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [small, setSmall] = useState(false);
  const { id, content, facts } = clip;
  useEffect(() => {
    if (!facts) return;
    let gone = false;
    void pictures()
      .spectrum({ clipId: id, content, frame, facts }, { x, y, width, height })
      .then((power) => {
        const pen = canvas.current?.getContext('2d');
        if (gone || !pen) return;
        setSmall(power === null);
        if (!power) return;
        const image = pen.createImageData(SPECTRUM_SIDE, SPECTRUM_SIDE);
        power.forEach((db, i) => {
          const grey = 238 - 218 * Math.max(0, 1 - db / FLOOR_DB);
          image.data.set([grey, grey, grey, 255], 4 * i);
        });
        pen.putImageData(image, 0, 0);
      })
      .catch(() => undefined);
    return () => void (gone = true);
  }, [id, content, facts, frame, x, y, width, height]);
  return (
    <figure className="mt-3">
      <figcaption className="heading">Spatial frequencies there, frame {frame}</figcaption>
      {small && <p className="text-soft">The picture is too small for it.</p>}
      <div className="flex gap-3 pt-1">
        <canvas
          ref={canvas}
          width={SPECTRUM_SIDE}
          height={SPECTRUM_SIDE}
          role="img"
          aria-label="Spectrum of spatial frequencies, the middle is none"
          style={{ width: SHOWN_PX, height: SHOWN_PX, imageRendering: 'pixelated' }}
          className="border border-rule"
        />
        <p className="text-xs text-soft">
          across and down from −½ to ½ cycle a pixel; the middle is the mean.
          <br />
          Ink: {amount(FLOOR_DB, 'dB')} (pale) to 0 dB (black) below the strongest.
          <br />
          {SPECTRUM_SIDE} × {SPECTRUM_SIDE} px in the middle of the pattern.
        </p>
      </div>
    </figure>
  );
};
