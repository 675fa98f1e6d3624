import type { ReactNode } from 'react';

/** A shape in ink with a light edge, readable on any ground, as thin on the screen at any scale. */
export const Outline = ({
  children,
  dashed = false,
}: {
  children: (stroke: { vectorEffect: 'non-scaling-stroke' }) => ReactNode;
  dashed?: boolean;
}) => {
  const shape = children({ vectorEffect: 'non-scaling-stroke' });
  return (
    <g fill="none">
      <g stroke="#f4f4f4" strokeWidth={3}>
        {shape}
      </g>
      <g stroke="#141414" strokeWidth={1.25} strokeDasharray={dashed ? '5 4' : undefined}>
        {shape}
      </g>
    </g>
  );
};
