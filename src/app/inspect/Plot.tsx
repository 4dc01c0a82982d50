import Plotly from 'plotly.js-basic-dist-min';
import { useEffect, useRef } from 'react';

export interface PlotTrace {
  readonly type: 'scatter' | 'bar';
  readonly name: string;
  readonly x: readonly number[];
  readonly y: readonly number[];
  readonly colour: 'teal' | 'ink2' | 'line2' | 'madder';
  /** Of a line in pixels, of bars in units of x. */
  readonly width: number;
}

interface Props {
  readonly title: string;
  readonly height: number;
  readonly x: { readonly title: string; readonly range: readonly [number, number] };
  readonly y: { readonly title: string; readonly range: readonly [number, number] };
  readonly traces: readonly PlotTrace[];
  /** Limits, as upright lines. */
  readonly upright: readonly { readonly value: number; readonly words: string }[];
  /** The row that is looked at, as a level line. */
  readonly level: number | null;
  readonly onPoint?: (y: number) => void;
}

/** A chart in the page's own colours and type. Loaded with the first chart. */
export function Plot(props: Props) {
  const ref = useRef<HTMLDivElement>(null);
  const onPoint = useRef(props.onPoint);
  onPoint.current = props.onPoint;
  const linked = props.onPoint !== undefined;
  const drawn = JSON.stringify(props);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when anything it shows changes
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    let live = true;
    void Plotly.react(element, tracesOf(props), layoutOf(props), { displayModeBar: false, responsive: true }).then((plot) => {
      if (!live || !linked) return;
      plot.removeAllListeners?.('plotly_hover');
      plot.on('plotly_hover', (e) => {
        const y = e.points[0]?.y;
        if (y !== undefined) onPoint.current?.(y);
      });
    });
    return () => {
      live = false;
    };
  }, [drawn]);
  useEffect(() => {
    const element = ref.current;
    return () => {
      if (element) Plotly.purge(element);
    };
  }, []);
  return <div ref={ref} role="img" aria-label={props.title} style={{ height: props.height }} />;
}

const colour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();

function tracesOf({ traces }: Props): object[] {
  return traces.map((t) =>
    t.type === 'bar'
      ? {
          type: 'bar',
          name: t.name,
          x: t.x,
          y: t.y,
          width: t.width,
          marker: {
            color: colour(t.colour),
            // Below the limit hatched too: colour alone does not tell.
            pattern: { shape: t.colour === 'madder' ? '/' : '', fillmode: 'overlay', fgcolor: colour('card'), size: 5 },
          },
          hovertemplate: '%{x:.2f}: %{y:.2f} cm²<extra></extra>',
        }
      : {
          type: 'scatter',
          mode: 'lines',
          name: t.name,
          x: t.x,
          y: t.y,
          line: { color: colour(t.colour), width: t.width },
          hovertemplate: `%{x:.4~g}, %{y:.4~g}<extra>${t.name}</extra>`,
        },
  );
}

function layoutOf({ x, y, traces, upright, level, height, onPoint }: Props): object {
  const axis = (of: Props['x']) => ({
    title: { text: of.title, standoff: 4 },
    range: of.range,
    gridcolor: colour('line'),
    linecolor: colour('line2'),
    zeroline: false,
    tickfont: { family: 'Red Hat Mono Variable, monospace', size: 9 },
    automargin: true,
    nticks: 6,
  });
  const line = (shape: object, name: string, dash: string) => ({ type: 'line', ...shape, line: { color: colour(name), width: 1.5, dash } });
  return {
    height,
    margin: { l: 40, r: 8, t: 6, b: traces.length > 1 && traces[0]!.type === 'scatter' ? 48 : 32 },
    paper_bgcolor: 'rgba(0,0,0,0)',
    plot_bgcolor: 'rgba(0,0,0,0)',
    font: { family: 'Hanken Grotesk Variable, sans-serif', size: 10, color: colour('ink2') },
    xaxis: axis(x),
    yaxis: axis(y),
    bargap: 0,
    barmode: 'overlay',
    dragmode: false,
    // Rows are found by their height, however far from the line the pointer is.
    hovermode: onPoint ? 'y' : 'closest',
    hoverdistance: -1,
    showlegend: traces.length > 1 && traces[0]!.type === 'scatter',
    legend: { orientation: 'h', x: 0, y: -0.22, yanchor: 'top', font: { size: 10 } },
    shapes: [
      ...upright.map((l) => line({ x0: l.value, x1: l.value, yref: 'paper', y0: 0, y1: 1 }, 'madder', 'dash')),
      ...(level === null ? [] : [line({ y0: level, y1: level, xref: 'paper', x0: 0, x1: 1 }, 'teal', 'solid')]),
    ],
    annotations: upright.map((l) => ({
      x: l.value,
      yref: 'paper',
      y: 1,
      text: l.words,
      showarrow: false,
      xanchor: l.value > (x.range[0] + x.range[1]) / 2 ? 'right' : 'left',
      yanchor: 'top',
      font: { size: 9, color: colour('madder') },
    })),
  };
}
