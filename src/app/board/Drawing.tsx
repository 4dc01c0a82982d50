import { readCurve } from '../../core/curves/fairness';
import { flatten, type PlanarCurve, type Point2 } from '../../core/curves/planar';
import { type ResolvedCurve, type ResolvedProfile, splineChord } from '../../core/profile/resolve';
import type { Diagnosis } from '../../core/profile/solver/diagnose';
import { curveWords, derivedOf } from '../../core/profile/words';
import type { Profile, ProfileCurve } from '../../core/recipe/schema';
import { fixed } from '../../core/units/units';
import type { Drag, Picked, View } from './tools';

interface DrawingProps {
  readonly profile: Profile;
  readonly resolved: ResolvedProfile;
  /** Things on the board can be chosen and dragged. */
  readonly active: boolean;
  /** The mirrored half is shown. */
  readonly mirror: boolean;
  readonly picked: readonly Picked[];
  readonly diagnosis: Diagnosis | undefined;
  /** Pixels per mm. */
  readonly scale: number;
  readonly px: (p: Point2) => Point2;
  readonly path: (points: readonly Point2[], mirror?: boolean) => string;
  readonly toMm: (e: { clientX: number; clientY: number }) => Point2;
  readonly onPick: (picked: Picked, more: boolean) => void;
  /** Reached with the keyboard. */
  readonly onFocus: (picked: Picked) => void;
  readonly onDrag: (drag: Drag) => void;
}

type Spline = Extract<ProfileCurve, { kind: 'spline' }>;

/** Handles of a spline by the key they are stored under, with where the curve is there. */
function handlesOf(c: Spline, r: ResolvedProfile): { key: string; tip: Point2; angle: number; weight: number }[] {
  const v = r.sketch.curves.get(c.id)?.handles;
  const { x } = r.sketch.system;
  return [...(v ?? [])].map(([key, [angle, weight]]) => ({
    key,
    tip: r.points.get(key === 'start' ? c.from : key === 'end' ? c.to : key)!,
    angle: x[angle]!,
    weight: x[weight]!,
  }));
}

/** The curves with their mirrored half, the spline handles and the points, each of which can be picked and focused. */
export function Drawing(props: DrawingProps) {
  const { profile, resolved, active, picked, px, diagnosis, onPick, onFocus, onDrag, toMm } = props;
  const isOn = (kind: Picked['kind'], id: string): boolean => picked.some((p) => p.kind === kind && p.id === id);
  const free = new Set(diagnosis?.free.map((f) => f.point));
  return (
    <>
      {resolved.curves.map((c) => (
        <CurveMark
          key={c.id}
          {...props}
          c={c}
          on={isOn(c.source ? 'curve' : 'derived', c.source ? c.source.id : (derivedOf(profile, c.id)?.id ?? c.id))}
        />
      ))}
      {profile.curves.map((c) => {
        if (c.kind === 'control')
          return (
            <path
              key={c.id}
              d={props.path(c.points.map((p) => resolved.points.get(p)!))}
              fill="none"
              className="stroke-ink3"
              strokeDasharray="2 3"
              pointerEvents="none"
            />
          );
        if (c.kind !== 'spline') return null;
        const chord = splineChord(c, resolved.points);
        return handlesOf(c, resolved).map((h) => {
          const q = px(h.tip);
          const l = (chord * h.weight) / 3;
          const at = px({ x: h.tip.x + Math.cos(h.angle) * l, y: h.tip.y + Math.sin(h.angle) * l });
          return (
            <g key={`${c.id}${h.key}`}>
              <line x1={q.x} y1={q.y} x2={at.x} y2={at.y} className="stroke-teal" strokeWidth={1} />
              <circle
                cx={at.x}
                cy={at.y}
                r={4.5}
                className="cursor-grab fill-card stroke-teal"
                strokeWidth={1.6}
                role="button"
                aria-label={`Handle at the ${h.key} of ${c.name ?? c.id}`}
                onPointerDown={(e) => {
                  if (!active) return;
                  e.stopPropagation();
                  onPick({ kind: 'curve', id: c.id }, false);
                  onDrag({ kind: 'handle', curve: c.id, end: h.key });
                }}
              />
            </g>
          );
        });
      })}
      {profile.points.map((p) => {
        const mm = resolved.points.get(p.id);
        if (!mm) return null;
        const at = px(mm);
        const half = profile.followed?.has(p.id) ? 2.5 : p.reference ? 3 : 3.5;
        const followed = profile.followed?.has(p.id) ?? false;
        const held = followed || (diagnosis !== undefined && !free.has(p.id));
        return (
          <g key={p.id}>
            {isOn('point', p.id) && <circle cx={at.x} cy={at.y} r={8} className="fill-none stroke-teal" />}
            <rect
              x={at.x - half}
              y={at.y - half}
              width={2 * half}
              height={2 * half}
              transform={p.reference ? `rotate(45 ${at.x} ${at.y})` : undefined}
              className={`stroke-ink ${held ? 'cursor-pointer fill-ink' : 'cursor-grab fill-card'}`}
              strokeWidth={1.3}
              role="button"
              tabIndex={0}
              data-point={p.id}
              aria-label={`Point ${p.id}, across ${fixed(mm.x, 2)}, up ${fixed(mm.y, 2)}${followed ? ', follows a body' : held ? ', held' : ''}`}
              onFocus={() => onFocus({ kind: 'point', id: p.id })}
              onPointerDown={(e) => {
                if (!active || e.button !== 0) return;
                e.stopPropagation();
                const more = e.shiftKey || e.ctrlKey || e.metaKey;
                onPick({ kind: 'point', id: p.id }, more);
                if (!more && !followed) onDrag({ kind: 'points', ids: [p.id], at: toMm(e) });
              }}
            />
          </g>
        );
      })}
    </>
  );
}

function CurveMark({
  c,
  on,
  profile,
  resolved,
  active,
  mirror,
  scale,
  path,
  onPick,
  onFocus,
  onDrag,
  toMm,
}: DrawingProps & { c: ResolvedCurve; on: boolean }) {
  const followed = profile.followed?.has(c.id) ?? false;
  const pts = flatten(c.curve, 0.2 / scale + 0.005);
  const d = path(pts);
  const pick: Picked = {
    ...(c.source ? { kind: 'curve', id: c.source.id } : { kind: 'derived', id: derivedOf(profile, c.id)?.id ?? c.id }),
    curve: c.id,
  };
  const grab = (e: React.PointerEvent): void => {
    if (!c.source || followed || e.shiftKey || e.ctrlKey || e.metaKey) return;
    const drag = curveDrag(c.source, resolved, toMm(e));
    if (drag) onDrag(drag);
  };
  return (
    <g>
      {mirror && !c.construction && <path d={path(pts, true)} fill="none" className="stroke-ink3" strokeWidth={1} opacity={0.45} />}
      <path
        d={d}
        fill="none"
        className={on ? 'stroke-teal' : c.construction ? 'stroke-ink3' : 'stroke-ink'}
        strokeWidth={on ? 2.6 : c.construction ? 1 : c.source ? 1.6 : 1.2}
        strokeDasharray={followed ? '10 3 2 3' : c.construction ? '7 4' : c.source ? undefined : '9 2'}
      />
      {active && (
        <path
          d={d}
          fill="none"
          stroke="transparent"
          strokeWidth={11}
          role="button"
          tabIndex={0}
          data-curve={c.id}
          aria-label={`Curve ${curveWords(profile, c.source ? c.source.id : c.id)}`}
          className="cursor-pointer outline-none focus-visible:stroke-teal/30"
          onFocus={() => onFocus(pick)}
          onPointerDown={(e) => {
            if (e.button !== 0) return;
            e.stopPropagation();
            onPick(pick, e.shiftKey || e.ctrlKey || e.metaKey);
            grab(e);
          }}
        />
      )}
    </g>
  );
}

/** Taking hold of a curve: a line moves with both ends, a circle or an arc changes its radius. */
function curveDrag(c: ProfileCurve, r: ResolvedProfile, at: Point2): Drag | undefined {
  if (c.kind === 'line') return { kind: 'points', ids: [c.from, c.to], at };
  if (c.kind === 'circle' || c.kind === 'arc') return { kind: 'radius', curve: c.id, centre: r.points.get(c.centre)! };
  if (c.kind === 'text') return { kind: 'points', ids: [c.point], at };
  return undefined;
}

/** Curvature as teeth across a curve, long where it turns tightly. */
export function Comb({ curve, px, scale, length }: { curve: PlanarCurve; px: (p: Point2) => Point2; scale: number; length: number }) {
  const { teeth, tightest, inflections } = readCurve(curve, 140);
  const top = Math.max(...teeth.map((t) => Math.abs(t.curvature)));
  if (!(top > 1e-9)) return null;
  // The tallest tooth takes the length asked for, in pixels.
  const k = length / top / scale;
  const tips = teeth.map((t) => px({ x: t.at.x - t.normal.x * t.curvature * k, y: t.at.y - t.normal.y * t.curvature * k }));
  const feet = teeth.map((t) => px(t.at));
  const tight = px(tightest.at);
  return (
    <g pointerEvents="none" data-testid="comb">
      <path
        d={feet.map((f, i) => `M${f.x.toFixed(1)} ${f.y.toFixed(1)}L${tips[i]!.x.toFixed(1)} ${tips[i]!.y.toFixed(1)}`).join('')}
        className="stroke-teal"
        strokeWidth={0.5}
        opacity={0.7}
      />
      <path
        d={tips.map((t, i) => `${i ? 'L' : 'M'}${t.x.toFixed(1)} ${t.y.toFixed(1)}`).join('')}
        fill="none"
        className="stroke-teal"
        strokeWidth={1}
      />
      {inflections.map((p) => {
        const q = px(p);
        return <circle key={`${q.x}`} cx={q.x} cy={q.y} r={3} className="fill-amberwash stroke-amber" />;
      })}
      <path d={`M${tight.x - 4} ${tight.y}h8M${tight.x} ${tight.y - 4}v8`} className="stroke-madder" />
    </g>
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
