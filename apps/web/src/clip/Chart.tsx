import { useEffect, useRef } from 'react';

export interface Curve {
  readonly x: readonly number[];
  readonly y: readonly (number | null)[];
  readonly points?: boolean;
}

interface Props {
  readonly title: string;
  readonly xTitle: string;
  readonly yTitle: string;
  readonly curve: Curve;
  /** A level that the curve is read against. */
  readonly limit?: { readonly at: number; readonly name: string };
  /** Where one is, on the x axis. */
  readonly here?: number;
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

/** A curve on ruled paper. The charting library is only fetched when one is looked at. */
export const Chart = ({ title, xTitle, yTitle, curve, limit, here }: Props) => {
  const root = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const node = root.current;
    if (!node) return;
    let gone = false;
    void import('plotly.js-basic-dist-min').then(({ default: plotly }) => {
      if (gone) return;
      const trace = {
        x: curve.x,
        y: curve.y,
        mode: curve.points ? 'lines+markers' : 'lines',
        line: { color: INK, width: 1.3 },
        marker: { color: INK, size: 5 },
        connectgaps: false,
        hovertemplate: `%{x:.3~f} · %{y:.3~f}<extra></extra>`,
      };
      const lines = [
        ...(limit
          ? [
              {
                type: 'line',
                xref: 'paper',
                x0: 0,
                x1: 1,
                y0: limit.at,
                y1: limit.at,
                line: { color: INK, width: 1, dash: 'dash' },
              },
            ]
          : []),
        ...(here === undefined
          ? []
          : [
              {
                type: 'line',
                yref: 'paper',
                y0: 0,
                y1: 1,
                x0: here,
                x1: here,
                line: { color: INK, width: 1 },
              },
            ]),
      ];
      const layout = {
        height: 168,
        margin: { l: 46, r: 8, t: 6, b: 36 },
        paper_bgcolor: 'rgba(0,0,0,0)',
        plot_bgcolor: '#eeeeee',
        font: { family: 'Libre Franklin Variable, sans-serif', size: 11, color: INK },
        xaxis: { ...AXIS, title: { text: xTitle, standoff: 4 } },
        yaxis: { ...AXIS, title: { text: yTitle, standoff: 4 }, rangemode: 'tozero' },
        shapes: lines,
        annotations: limit
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
          : [],
        showlegend: false,
      };
      void plotly.react(node, [trace], layout, { displayModeBar: false, responsive: true });
    });
    return () => void (gone = true);
  }, [curve, xTitle, yTitle, limit, here]);
  useEffect(() => {
    const node = root.current;
    return () =>
      void (node && import('plotly.js-basic-dist-min').then(({ default: plotly }) => plotly.purge(node)));
  }, []);
  return (
    <figure className="mt-3">
      <figcaption className="heading">{title}</figcaption>
      <div ref={root} role="img" aria-label={title} className="h-[168px]" />
    </figure>
  );
};
