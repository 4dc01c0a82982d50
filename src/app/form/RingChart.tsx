import { useRef } from 'react';
import type { RingForm } from '../../core/form/rings';
import { fixed } from '../../core/units/units';

const [WIDTH, HEIGHT, LEFT, BOTTOM, TOP, RIGHT] = [260, 250, 34, 26, 12, 14];
/** What is dragged or stepped to is rounded to this, mm. */
const SNAP = 0.5;

/** Radius by height, mirrored: rings are dragged, or moved with the arrow keys. */
export function RingChart({
  form,
  selected,
  onSelect,
  onMove,
  onEnd,
}: {
  form: RingForm;
  selected: number | null;
  onSelect: (ring: number) => void;
  /** While a ring is moved, mm. */
  onMove: (ring: number, radius: number, height: number) => void;
  onEnd: () => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const dragged = useRef<number | null>(null);
  const { rows } = form;
  const widest = Math.max(...rows.map((r) => r.radius)) * 1.15;
  const [low, high] = [rows[0]!.height, rows[rows.length - 1]!.height];
  const margin = 0.06 * (high - low);
  // One scale for both, so that the outline is the body's own.
  const scale = Math.min((WIDTH - LEFT - RIGHT) / (2 * widest), (HEIGHT - BOTTOM - TOP) / (high - low + 2 * margin));
  const middle = LEFT + (WIDTH - LEFT - RIGHT) / 2;
  const px = (r: number): number => middle + r * scale;
  const py = (z: number): number => HEIGHT - BOTTOM - (z - low + margin) * scale;
  const snapped = (v: number): number => Math.round(v / SNAP) * SNAP;
  const move = (i: number, radius: number, height: number): void => {
    const below = i > 0 ? rows[i - 1]!.height + SNAP : Number.NEGATIVE_INFINITY;
    const above = i + 1 < rows.length ? rows[i + 1]!.height - SNAP : Number.POSITIVE_INFINITY;
    onMove(i, Math.max(form.ridge + SNAP, snapped(radius)), Math.min(above, Math.max(below, snapped(height))));
  };
  const line = (sign: 1 | -1): string => rows.map((r) => `${px(sign * r.radius).toFixed(1)},${py(r.height).toFixed(1)}`).join(' ');
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="h-full max-h-full w-full touch-none border border-line bg-card"
      role="group"
      aria-label="Radius by height"
      onPointerMove={(e) => {
        const i = dragged.current;
        const matrix = svg.current?.getScreenCTM();
        if (i === null || !matrix) return;
        const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse());
        move(i, (p.x - middle) / scale, (HEIGHT - BOTTOM - p.y) / scale + low - margin);
      }}
      onPointerUp={() => {
        if (dragged.current === null) return;
        dragged.current = null;
        onEnd();
      }}
    >
      <line x1={middle} x2={middle} y1={TOP} y2={HEIGHT - BOTTOM} className="stroke-teal" strokeDasharray="6 3" />
      <polyline points={line(-1)} className="fill-none stroke-line2" strokeWidth={1} />
      <polyline points={line(1)} className="fill-none stroke-ink" strokeWidth={1.5} />
      {rows.map((r, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rings are numbered from the bottom
        <g key={i}>
          <line x1={px(-r.radius)} x2={px(r.radius)} y1={py(r.height)} y2={py(r.height)} className="stroke-line" />
          <rect
            x={px(r.radius) - 5}
            y={py(r.height) - 5}
            width={10}
            height={10}
            transform={`rotate(45 ${px(r.radius)} ${py(r.height)})`}
            className={`cursor-grab ${i === selected ? 'fill-teal stroke-teal' : 'fill-card stroke-teal'}`}
            strokeWidth={1.5}
            tabIndex={0}
            role="slider"
            aria-label={`Ring ${i + 1}`}
            aria-valuenow={r.radius}
            aria-valuetext={`radius ${fixed(r.radius, 2)} mm at height ${fixed(r.height, 2)} mm`}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              dragged.current = i;
              onSelect(i);
            }}
            onFocus={() => onSelect(i)}
            onKeyDown={(e) => {
              const by = e.shiftKey ? 5 : SNAP;
              const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[e.key];
              if (!step) return;
              e.preventDefault();
              move(i, r.radius + step[0]!, r.height + step[1]!);
              onEnd();
            }}
          />
        </g>
      ))}
      <text x={middle} y={HEIGHT - 8} textAnchor="middle" className="fill-ink2 text-[10px]">
        {`⌀ ${fixed(2 * Math.max(...rows.map((r) => r.radius)), 1)} mm at the widest`}
      </text>
      <text x={4} y={py(high) + 3} className="fill-ink2 font-mono text-[9px]">
        {fixed(high, 0)}
      </text>
      <text x={4} y={py(low) + 3} className="fill-ink2 font-mono text-[9px]">
        {fixed(low, 0)}
      </text>
    </svg>
  );
}
