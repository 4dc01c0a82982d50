import { flatten, type Point2 } from '../../core/curves/planar';
import { isHeld } from '../../core/profile/draw';
import { type ResolvedProfile, splineChord } from '../../core/profile/resolve';
import type { Profile } from '../../core/recipe/schema';
import { fixed } from '../../core/units/units';
import type { Drag, Picked, Tool, View } from './tools';

interface DrawingProps {
  readonly profile: Profile;
  readonly resolved: ResolvedProfile;
  readonly tool: Tool;
  readonly picked: Picked;
  /** Pixels per mm. */
  readonly scale: number;
  readonly px: (p: Point2) => Point2;
  readonly path: (points: readonly Point2[], mirror?: boolean) => string;
  readonly onPick: (picked: Picked) => void;
  readonly onDrag: (drag: Drag) => void;
}

/** The curves with their mirrored half, the spline handles and the points, each of which can be picked and focused. */
export function Drawing({ profile, resolved, tool, picked, scale, px, path, onPick, onDrag }: DrawingProps) {
  return (
    <>
      {resolved.curves.map((c) => {
        const pts = flatten(c.curve, 0.2 / scale + 0.005);
        const on = picked?.kind === 'curve' && picked.id === c.id;
        return (
          <g key={c.id}>
            <path d={path(pts, true)} fill="none" className="stroke-ink3" strokeWidth={1} opacity={0.45} />
            <path d={path(pts)} fill="none" className={on ? 'stroke-teal' : 'stroke-ink'} strokeWidth={on ? 2.6 : 1.6} />
            {tool === 'select' && (
              <path
                d={path(pts)}
                fill="none"
                stroke="transparent"
                strokeWidth={11}
                role="button"
                tabIndex={0}
                aria-label={`Curve ${c.source.name ?? c.id}`}
                className="cursor-pointer outline-none focus:stroke-teal/30"
                onFocus={() => onPick({ kind: 'curve', id: c.id })}
                onPointerDown={(e) => {
                  e.stopPropagation();
                  onPick({ kind: 'curve', id: c.id });
                }}
              />
            )}
          </g>
        );
      })}
      {profile.curves.map((c) => {
        if (c.kind !== 'spline') return null;
        return (['start', 'end'] as const).map((end) => {
          const h = c[end];
          if (!h) return null;
          const shape = resolved.curves.find((k) => k.id === c.id)!.curve;
          if (shape.kind !== 'spline') return null;
          const poles_ = shape.spline.poles;
          const via = [c.from, ...c.through, c.to].map((id) => resolved.points.get(id)!);
          const chord = splineChord(c, resolved.points);
          const tip = end === 'start' ? via[0]! : via[via.length - 1]!;
          const near = end === 'start' ? poles_[1]! : poles_[poles_.length - 2]!;
          const l = Math.hypot(near[0]! - tip.x, near[1]! - tip.y) || 1;
          const w = Number.parseFloat(h.weight) || 1;
          const at = px({
            x: tip.x + ((near[0]! - tip.x) / l) * ((chord * w) / 3),
            y: tip.y + ((near[1]! - tip.y) / l) * ((chord * w) / 3),
          });
          const q = px(tip);
          return (
            <g key={`${c.id}${end}`}>
              <line x1={q.x} y1={q.y} x2={at.x} y2={at.y} className="stroke-teal" strokeWidth={1} />
              <circle
                cx={at.x}
                cy={at.y}
                r={4.5}
                className="cursor-grab fill-card stroke-teal"
                strokeWidth={1.6}
                role="button"
                aria-label={`Handle at the ${end} of ${c.name ?? c.id}`}
                onPointerDown={(e) => {
                  if (tool !== 'select') return;
                  e.stopPropagation();
                  onPick({ kind: 'curve', id: c.id });
                  onDrag({ kind: 'handle', curve: c.id, end });
                }}
              />
            </g>
          );
        });
      })}
      {profile.points.map((p) => {
        const at = px(resolved.points.get(p.id)!);
        const free = !isHeld(p.x) || !isHeld(p.y);
        const on = picked?.kind === 'point' && picked.id === p.id;
        const mm = resolved.points.get(p.id)!;
        return (
          <g key={p.id}>
            {on && <circle cx={at.x} cy={at.y} r={8} className="fill-none stroke-teal" />}
            <rect
              x={at.x - 4}
              y={at.y - 4}
              width={8}
              height={8}
              className={`stroke-ink ${free ? 'cursor-grab fill-card' : 'cursor-pointer fill-ink'}`}
              strokeWidth={1.4}
              role="button"
              tabIndex={0}
              data-point={p.id}
              aria-label={`Point ${p.id}, radius ${fixed(mm.x, 2)}, height ${fixed(mm.y, 2)}${free ? '' : ', held by dimensions'}`}
              onFocus={() => onPick({ kind: 'point', id: p.id })}
              onPointerDown={(e) => {
                if (tool !== 'select') return;
                e.stopPropagation();
                onPick({ kind: 'point', id: p.id });
                if (free) onDrag({ kind: 'point', id: p.id });
              }}
            />
          </g>
        );
      })}
    </>
  );
}

/** Millimetre paper. */
export function Paper({ view, size, grid }: { view: View; size: { w: number; h: number }; grid: number }) {
  const step = grid * view.k;
  const x = (((size.w / 2 - view.x * view.k) % (step * 10)) + step * 10) % (step * 10);
  const y = (((size.h / 2 + view.y * view.k) % (step * 10)) + step * 10) % (step * 10);
  return (
    <>
      <defs>
        <pattern id="mm" width={step} height={step} patternUnits="userSpaceOnUse" x={x} y={y}>
          <path d={`M${step} 0H0V${step}`} fill="none" className="stroke-line" strokeWidth={0.5} />
        </pattern>
        <pattern id="cm" width={step * 10} height={step * 10} patternUnits="userSpaceOnUse" x={x} y={y}>
          <path d={`M${step * 10} 0H0V${step * 10}`} fill="none" className="stroke-line2" strokeWidth={0.7} />
        </pattern>
      </defs>
      <rect width={size.w} height={size.h} fill="url(#mm)" />
      <rect width={size.w} height={size.h} fill="url(#cm)" />
    </>
  );
}
