import type { Region } from '@bevrin/contract';

/** A region smaller than this share of the picture is ringed, so that it is found. */
const SMALL = 0.02;
const RING = 0.011;

/** Evidence on the picture: outlines in ink with a light edge, readable on any ground. */
export const Marks = ({
  width,
  height,
  regions,
}: {
  width: number;
  height: number;
  regions: readonly Region[];
}) => (
  <svg
    viewBox={`0 0 ${width} ${height}`}
    className="pointer-events-none absolute inset-0 h-full w-full"
    aria-hidden
  >
    {regions.map((r, i) => {
      const tiny = r.width < SMALL * width && r.height < SMALL * height;
      const shape = tiny ? (
        <circle
          cx={r.x + r.width / 2}
          cy={r.y + r.height / 2}
          r={RING * width}
          vectorEffect="non-scaling-stroke"
        />
      ) : (
        <rect x={r.x} y={r.y} width={r.width} height={r.height} vectorEffect="non-scaling-stroke" />
      );
      return (
        <g key={i} fill="none">
          <g stroke="#f4f4f4" strokeWidth={3}>
            {shape}
          </g>
          <g stroke="#141414" strokeWidth={1.25}>
            {shape}
          </g>
        </g>
      );
    })}
  </svg>
);
