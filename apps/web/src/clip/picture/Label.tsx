/** Text of one size on the screen, on a slip of its own. */
export const Label = ({ x, y, children }: { x: number; y: number; children: string }) => (
  <text
    x={x}
    y={y}
    style={{
      fontSize: 'calc(12.5px * var(--px))',
      fontWeight: 600,
      strokeWidth: 'calc(4px * var(--px))',
    }}
    stroke="#f4f4f4"
    fill="#141414"
    paintOrder="stroke"
  >
    {children}
  </text>
);
