import type { Project } from '../../core/recipe/schema';
import { formatLength } from '../../core/units/units';
import type { StepReport } from '../../engine/types';
import { showMark } from '../state/bench';

const [WIDTH, HEIGHT, LEFT, BOTTOM] = [250, 96, 30, 16];

/** Thinnest and thickest wall against height, with the wall asked for; a click on a height shows it on the stage. */
export function WallByHeight({ chart, project }: { chart: NonNullable<StepReport['chart']>; project: Project }) {
  const { rows, limit } = chart;
  const most = Math.max(limit * 1.5, ...rows.map((r) => r.most));
  const [low, high] = [rows[0]!.z, rows[rows.length - 1]!.z];
  const x = (wall: number): number => LEFT + ((WIDTH - LEFT - 6) * wall) / most;
  const y = (z: number): number => HEIGHT - BOTTOM - ((HEIGHT - BOTTOM - 4) * (z - low)) / (high - low || 1);
  const line = (of: (r: (typeof rows)[0]) => number): string => rows.map((r) => `${x(of(r)).toFixed(1)},${y(r.z).toFixed(1)}`).join(' ');
  const band = `${line((r) => r.least)} ${[...rows]
    .reverse()
    .map((r) => `${x(r.most).toFixed(1)},${y(r.z).toFixed(1)}`)
    .join(' ')}`;
  const thinnest = rows.reduce((a, b) => (b.least < a.least ? b : a));
  const words = `Wall by height: ${formatLength(thinnest.least, project.units, 2)} at the thinnest, at height ${formatLength(thinnest.z, project.units, 1)}; ${formatLength(Math.max(...rows.map((r) => r.most)), project.units, 2)} at the thickest`;
  return (
    <figure className="my-1">
      <svg
        role="img"
        aria-label={words}
        width={WIDTH}
        height={HEIGHT}
        className="border border-line bg-card"
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          const z = low + ((HEIGHT - BOTTOM - (e.clientY - box.top)) / (HEIGHT - BOTTOM - 4)) * (high - low);
          const row = rows.reduce((a, b) => (Math.abs(b.z - z) < Math.abs(a.z - z) ? b : a));
          showMark([0, 0, row.z], `wall ${row.least.toFixed(2)} to ${row.most.toFixed(2)} mm at height ${row.z.toFixed(1)}`);
        }}
        onKeyDown={() => {}}
      >
        <polygon points={band} className="fill-tealwash stroke-none" />
        <polyline points={line((r) => r.least)} className="fill-none stroke-teal" strokeWidth={1.5} />
        <polyline points={line((r) => r.most)} className="fill-none stroke-line2" strokeWidth={1} />
        <line x1={x(limit)} x2={x(limit)} y1={4} y2={HEIGHT - BOTTOM} className="stroke-madder" strokeDasharray="3 2" />
        <text x={x(limit) + 3} y={HEIGHT - 4} className="fill-madder text-[10px]">
          {formatLength(limit, project.units, 1)}
        </text>
        <text x={2} y={12} className="fill-ink2 text-[10px]">
          {high.toFixed(0)}
        </text>
        <text x={2} y={HEIGHT - BOTTOM} className="fill-ink2 text-[10px]">
          {low.toFixed(0)}
        </text>
        <text x={WIDTH - 44} y={HEIGHT - 4} className="fill-ink2 text-[10px]">
          wall {most.toFixed(0)}
        </text>
      </svg>
    </figure>
  );
}
