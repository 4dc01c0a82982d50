export interface Series {
  readonly label: string;
  readonly points: readonly (readonly [number, number])[];
  /** Class of the stroke. */
  readonly stroke: string;
  readonly width?: number;
}

interface Axis {
  readonly label: string;
  readonly from: number;
  readonly to: number;
}

const [WIDTH, LEFT, BOTTOM, TOP, RIGHT] = [300, 40, 30, 8, 10];

/** Round steps for an axis, five or so. */
export function ticksOf(from: number, to: number): number[] {
  const raw = (to - from) / 5 || 1;
  const ten = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((k) => k * ten).find((k) => k >= raw * (1 - 1e-9))!;
  const out: number[] = [];
  for (let v = Math.ceil(from / step - 1e-9) * step; v <= to + 1e-9 * step; v += step) out.push(Math.abs(v) < 1e-9 * step ? 0 : v);
  return out;
}

const short = (v: number): number => Number(v.toPrecision(4));
const across = (axis: Axis, v: number): number => LEFT + ((WIDTH - LEFT - RIGHT) * (v - axis.from)) / (axis.to - axis.from || 1);

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
  /** The value of y under the pointer; null as it leaves. */
  onPoint?: (y: number | null) => void;
  point?: number | null;
}) {
  const px = (v: number): number => across(x, v);
  const py = (v: number): number => height - BOTTOM - ((height - BOTTOM - TOP) * (v - y.from)) / (y.to - y.from || 1);
  const back = (clientY: number, box: DOMRect): number => {
    const v = y.from + ((height - BOTTOM - ((clientY - box.top) * height) / box.height) / (height - BOTTOM - TOP)) * (y.to - y.from);
    return Math.min(y.to, Math.max(y.from, v));
  };
  return (
    <figure className="my-2">
      <figcaption className="heading mb-1">{title}</figcaption>
      <svg
        role="img"
        aria-label={title}
        viewBox={`0 0 ${WIDTH} ${height}`}
        className="w-full border border-line bg-card"
        onPointerMove={(e) => onPoint?.(back(e.clientY, e.currentTarget.getBoundingClientRect()))}
        onPointerLeave={() => onPoint?.(null)}
      >
        {ticksOf(x.from, x.to).map((v) => (
          <g key={`x${v}`}>
            <line x1={px(v)} x2={px(v)} y1={TOP} y2={height - BOTTOM} className="stroke-line" />
            <text x={px(v)} y={height - BOTTOM + 11} textAnchor="middle" className="fill-ink2 font-mono text-[9px]">
              {short(v)}
            </text>
          </g>
        ))}
        {ticksOf(y.from, y.to).map((v) => (
          <g key={`y${v}`}>
            <line x1={LEFT} x2={WIDTH - RIGHT} y1={py(v)} y2={py(v)} className="stroke-line" />
            <text x={LEFT - 4} y={py(v) + 3} textAnchor="end" className="fill-ink2 font-mono text-[9px]">
              {short(v)}
            </text>
          </g>
        ))}
        {series.map((s) => (
          <polyline
            key={s.label}
            points={s.points.map(([a, b]) => `${px(a).toFixed(1)},${py(b).toFixed(1)}`).join(' ')}
            className={`fill-none ${s.stroke}`}
            strokeWidth={s.width ?? 1.5}
          />
        ))}
        {limits
          .filter((l) => l.value >= x.from && l.value <= x.to)
          .map((l) => (
            <g key={l.words}>
              <line x1={px(l.value)} x2={px(l.value)} y1={TOP} y2={height - BOTTOM} className="stroke-madder" strokeDasharray="3 2" />
              <text
                x={px(l.value) + (px(l.value) > 0.7 * WIDTH ? -3 : 3)}
                y={TOP + 9}
                textAnchor={px(l.value) > 0.7 * WIDTH ? 'end' : 'start'}
                className="fill-madder text-[9px]"
              >
                {l.words}
              </text>
            </g>
          ))}
        {point !== null && <line x1={LEFT} x2={WIDTH - RIGHT} y1={py(point)} y2={py(point)} className="stroke-teal" strokeWidth={1.5} />}
        <text x={(LEFT + WIDTH - RIGHT) / 2} y={height - 4} textAnchor="middle" className="fill-ink2 text-[9px]">
          {x.label}
        </text>
        <text transform={`translate(9 ${(TOP + height - BOTTOM) / 2}) rotate(-90)`} textAnchor="middle" className="fill-ink2 text-[9px]">
          {y.label}
        </text>
      </svg>
      {series.length > 1 && (
        <div className="flex flex-wrap gap-x-3 text-[11px] text-ink2">
          {series.map((s) => (
            <span key={s.label} className="flex items-center gap-1">
              <svg width="14" height="6" aria-hidden="true">
                <line x1="0" x2="14" y1="3" y2="3" className={s.stroke} strokeWidth={s.width ?? 1.5} />
              </svg>
              {s.label}
            </span>
          ))}
        </div>
      )}
    </figure>
  );
}

/** How much of the skin reads what: classes as bars, those below a limit outlined as well as coloured. */
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
  const height = 110;
  const most = Math.max(...areas, 1e-9);
  const step = (to - from) / areas.length;
  const px = (v: number): number => across({ label: '', from, to }, v);
  return (
    <figure className="my-2">
      <figcaption className="heading mb-1">{title}</figcaption>
      <svg role="img" aria-label={title} viewBox={`0 0 ${WIDTH} ${height}`} className="w-full border border-line bg-card">
        {areas.map((a, i) => {
          const h = ((height - BOTTOM - TOP) * a) / most;
          const low = from + i * step;
          const thin = limit !== null && low + step <= limit + 1e-9;
          return (
            <rect
              key={low}
              x={px(low) + 0.5}
              width={Math.max(0.5, px(low + step) - px(low) - 1)}
              y={height - BOTTOM - h}
              height={h}
              className={thin ? 'fill-madder stroke-ink' : 'fill-teal'}
            />
          );
        })}
        {ticksOf(from, to).map((v) => (
          <text key={v} x={px(v)} y={height - BOTTOM + 11} textAnchor="middle" className="fill-ink2 font-mono text-[9px]">
            {short(v)}
          </text>
        ))}
        {limit !== null && limit >= from && limit <= to && (
          <line x1={px(limit)} x2={px(limit)} y1={TOP} y2={height - BOTTOM} className="stroke-madder" strokeDasharray="3 2" />
        )}
        <text x={LEFT - 4} y={TOP + 8} textAnchor="end" className="fill-ink2 font-mono text-[9px]">
          {Number((most / 100).toPrecision(2))}
        </text>
        <text x={LEFT - 4} y={TOP + 18} textAnchor="end" className="fill-ink2 text-[9px]">
          cm²
        </text>
        <text x={(LEFT + WIDTH - RIGHT) / 2} y={height - 4} textAnchor="middle" className="fill-ink2 text-[9px]">
          {unit}
        </text>
      </svg>
    </figure>
  );
}
