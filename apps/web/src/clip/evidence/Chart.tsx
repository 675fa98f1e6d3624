import type plotly from 'plotly.js-basic-dist-min';
import { useEffect, useRef } from 'react';

export interface Curve {
  readonly x: readonly number[];
  readonly y: readonly (number | null)[];
  readonly points?: boolean;
  /** Bars instead of a line. */
  readonly bars?: boolean;
}

export interface ChartProps {
  readonly title: string;
  readonly xTitle: string;
  readonly yTitle: string;
  readonly curve: Curve;
  /** Drawn beside it, each with its name. */
  readonly also?: readonly (Curve & { readonly name: string })[];
  /** Places on the x axis that have a name. */
  readonly marks?: readonly { readonly at: number; readonly name: string }[];
  /** A level that the curve is read against. */
  readonly limit?: { readonly at: number; readonly name: string };
  /** Where one is, on the x axis. */
  readonly here?: number;
  /** Told where on the x axis somebody clicked. */
  readonly onPick?: (x: number) => void;
}

const INK = '#141414';
const AXIS = {
  color: INK,
  gridcolor: '#c9c9c9',
  linecolor: INK,
  linewidth: 1,
  ticks: 'outside',
  ticklen: 3,
  zeroline: false,
  fixedrange: true,
} as const;

type Charting = typeof plotly;
let library: Promise<Charting> | null = null;

/** The picture comes first: the charting library is fetched and started when the page has a moment. */
const CHARTS_AFTER_MS = 1500;
const charting = (): Promise<Charting> =>
  (library ??= new Promise<void>((resolve) =>
    requestIdleCallback(() => resolve(), { timeout: CHARTS_AFTER_MS }),
  ).then(async () => (await import('plotly.js-basic-dist-min')).default));

const NONE: readonly never[] = [];
/** Curves are told apart by the shape of their points and the way they are dashed, not by hue. */
const SYMBOLS = [
  'circle',
  'square-open',
  'diamond-open',
  'cross-thin-open',
  'x-thin-open',
  'triangle-up-open',
];
const DASHES = ['dash', 'dot', 'dashdot', 'longdash', 'longdashdot'];

const traceOf = (curve: Curve, name: string, symbol: string, dash: string) => ({
  x: curve.x,
  y: curve.y,
  name,
  ...(curve.bars
    ? { type: 'bar', width: 0.5, marker: { color: INK } }
    : {
        mode: curve.points ? 'lines+markers' : 'lines',
        line: { color: INK, width: 1.2, dash },
        marker: { color: INK, size: 5, symbol },
        connectgaps: false,
      }),
  hovertemplate: `%{x:.3~f} · %{y:.3~f}<extra></extra>`,
});

type Drawn = Required<Pick<ChartProps, 'curve' | 'also' | 'marks' | 'xTitle' | 'yTitle'>> &
  Pick<ChartProps, 'limit' | 'here'>;

/** A line from one end of the paper to the other. */
const upright = (x: number, dash?: string) => ({
  type: 'line',
  yref: 'paper',
  y0: 0,
  y1: 1,
  x0: x,
  x1: x,
  line: { color: INK, width: 1, ...(dash && { dash }) },
});
const level = (y: number) => ({
  type: 'line',
  xref: 'paper',
  x0: 0,
  x1: 1,
  y0: y,
  y1: y,
  line: { color: INK, width: 1, dash: 'dash' },
});

/** Words beside what they name. */
const wordsOf = ({ marks, also, limit }: Drawn) => [
  ...marks.map((m) => ({
    x: m.at,
    yref: 'paper',
    y: 1,
    yanchor: 'top',
    text: m.name,
    showarrow: false,
  })),
  ...also.flatMap(({ name, x, y }) => {
    const last = y.findLastIndex((v) => v !== null);
    const at = { x: x[last], y: y[last], xanchor: 'right', yanchor: 'bottom' };
    return last < 0 ? [] : [{ ...at, text: name, showarrow: false }];
  }),
  ...(limit
    ? [
        {
          xref: 'paper',
          x: 1,
          y: limit.at,
          xanchor: 'right',
          yanchor: 'bottom',
          text: limit.name,
          showarrow: false,
        },
      ]
    : []),
];

/** What is drawn, in the words of the charting library. */
const drawingOf = (drawn: Drawn) => {
  const { curve, also, marks, xTitle, yTitle, limit, here } = drawn;
  const traces = [
    traceOf(curve, 'this', also.length > 0 ? SYMBOLS[0] : 'circle', 'solid'),
    ...also.map((c, i) => traceOf(c, c.name, SYMBOLS[(i + 1) % SYMBOLS.length], DASHES[i % DASHES.length])),
  ];
  const layout = {
    height: 168,
    margin: { l: 46, r: 8, t: 6, b: 36 },
    paper_bgcolor: 'rgba(0,0,0,0)',
    plot_bgcolor: '#eeeeee',
    font: { family: 'Libre Franklin Variable, sans-serif', size: 11, color: INK },
    xaxis: { ...AXIS, title: { text: xTitle, standoff: 4 } },
    yaxis: { ...AXIS, title: { text: yTitle, standoff: 4 }, rangemode: 'tozero' },
    shapes: [
      ...(limit ? [level(limit.at)] : []),
      ...marks.map((m) => upright(m.at, 'dot')),
      ...(here === undefined ? [] : [upright(here)]),
    ],
    annotations: wordsOf(drawn),
    showlegend: false,
  };
  return { traces, layout };
};

/** A curve on ruled paper. The charting library is only fetched when one is looked at. */
export const Chart = ({
  title,
  xTitle,
  yTitle,
  curve,
  also = NONE,
  marks = NONE,
  limit,
  here,
  onPick,
}: ChartProps) => {
  const root = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const node = root.current;
    if (!node) return;
    let gone = false;
    void charting().then((plotly) => {
      if (gone) return;
      const { traces, layout } = drawingOf({ curve, also, marks, xTitle, yTitle, limit, here });
      void plotly.react(node, traces, layout, { displayModeBar: false, responsive: true });
    });
    return () => void (gone = true);
  }, [curve, also, marks, xTitle, yTitle, limit, here]);
  useEffect(() => {
    const node = root.current;
    return () => void (node && charting().then((plotly) => plotly.purge(node)));
  }, []);
  return (
    <figure className="mt-3">
      <figcaption className="heading">{title}</figcaption>
      <div
        ref={root}
        role="img"
        aria-label={title}
        className={`h-[168px] ${onPick ? 'cursor-crosshair' : ''}`}
        onClick={(e) => {
          const x = onPick && xUnder(root.current, e.clientX);
          if (x !== undefined && x !== null) onPick?.(x);
        }}
      />
    </figure>
  );
};

/** The place on the x axis under the pointer. */
const xUnder = (node: HTMLElement | null, clientX: number): number | null => {
  const plot = node?.querySelector('.nsewdrag')?.getBoundingClientRect();
  const range = (node as (HTMLElement & { _fullLayout?: { xaxis?: { range?: [number, number] } } }) | null)
    ?._fullLayout?.xaxis?.range;
  if (!plot || !range || clientX < plot.left || clientX > plot.right) return null;
  return range[0] + ((clientX - plot.left) / plot.width) * (range[1] - range[0]);
};
