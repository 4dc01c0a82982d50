import type { ComponentProps } from 'react';
import { Later, useLater } from '../ui/later';
import { Pane } from '../ui/Pane';
import type { Plot as PlotItself, PlotTrace } from './Plot';

/** The charting library comes with the first chart, not with the page. */
const plot = new Later(
  () => import('./Plot'),
  (m) => m.Plot,
);
function Plot(props: ComponentProps<typeof PlotItself>) {
  const Here = useLater(plot);
  return Here ? <Here {...props} /> : null;
}

export interface Series {
  readonly label: string;
  readonly points: readonly (readonly [number, number])[];
  /** Name of the colour. */
  readonly colour: 'teal' | 'ink2' | 'line2';
  readonly width?: number;
}

interface Axis {
  readonly label: string;
  readonly from: number;
  readonly to: number;
}

/** Lines over two axes, with limits drawn in and the place under the pointer told. */
export function Chart({
  title,
  x,
  y,
  series,
  limits = [],
  height = 190,
  onPoint,
  point = null,
}: {
  title: string;
  x: Axis;
  y: Axis;
  series: readonly Series[];
  /** Values of x that are limits. */
  limits?: readonly { readonly value: number; readonly words: string }[];
  height?: number;
  /** The value of y of the row under the pointer. */
  onPoint?: (y: number) => void;
  point?: number | null;
}) {
  const traces = series.map(
    (s): PlotTrace => ({
      type: 'scatter',
      name: s.label,
      x: s.points.map((p) => p[0]),
      y: s.points.map((p) => p[1]),
      colour: s.colour,
      width: s.width ?? 1.5,
    }),
  );
  return (
    <Framed title={title} height={height}>
      <Plot
        title={title}
        height={height}
        x={{ title: x.label, range: [x.from, x.to] }}
        y={{ title: y.label, range: [y.from, y.to] }}
        traces={traces}
        upright={limits.filter((l) => l.value >= x.from && l.value <= x.to)}
        level={point}
        {...(onPoint ? { onPoint } : {})}
      />
    </Framed>
  );
}

function Framed({ title, height, children }: { title: string; height: number; children: React.ReactNode }) {
  return (
    <figure className="my-2">
      <figcaption className="heading mb-1">{title}</figcaption>
      <div className="border border-line bg-card" style={{ minHeight: height }}>
        <Pane called="The chart">{children}</Pane>
      </div>
    </figure>
  );
}

/** How much of the skin reads what: classes as bars, those below a limit hatched as well as coloured. */
export function Bars({
  title,
  from,
  to,
  areas,
  limit,
  unit,
}: {
  title: string;
  from: number;
  to: number;
  /** mm² by class. */
  areas: readonly number[];
  limit: number | null;
  unit: string;
}) {
  const height = 140;
  const step = (to - from) / areas.length;
  const bars = areas.map((a, i) => ({
    middle: from + (i + 0.5) * step,
    area: a / 100,
    thin: limit !== null && from + (i + 1) * step <= limit + 1e-9,
  }));
  const trace = (thin: boolean): PlotTrace => {
    const mine = bars.filter((b) => b.thin === thin);
    return {
      type: 'bar',
      name: thin ? 'below the limit' : 'area',
      x: mine.map((b) => b.middle),
      y: mine.map((b) => b.area),
      colour: thin ? 'madder' : 'teal',
      width: step * 0.92,
    };
  };
  return (
    <Framed title={title} height={height}>
      <Plot
        title={title}
        height={height}
        x={{ title: unit, range: [from, to] }}
        y={{ title: 'cm²', range: [0, 1.05 * Math.max(...bars.map((b) => b.area), 1e-6)] }}
        traces={[trace(true), trace(false)].filter((t) => t.x.length > 0)}
        upright={limit !== null && limit >= from && limit <= to ? [{ value: limit, words: 'limit' }] : []}
        level={null}
      />
    </Framed>
  );
}
