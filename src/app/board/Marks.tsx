/** What is written onto a drawing: dimensions, small signs of its relations, and what is still free. */
import type { Point2 } from '../../core/curves/planar';
import { anchors, type DimensionAnchor, middle, wordsOf } from '../../core/profile/notes';
import type { ResolvedProfile } from '../../core/profile/resolve';
import type { Diagnosis } from '../../core/profile/solver/diagnose';
import { type Dimension, isDimension } from '../../core/profile/solver/terms';
import { constraintWords } from '../../core/profile/words';
import type { Constraint, Profile } from '../../core/recipe/schema';
import type { Drag, Picked } from './tools';

interface Props {
  readonly profile: Profile;
  readonly resolved: ResolvedProfile;
  readonly readings: ReadonlyMap<string, number>;
  readonly diagnosis: Diagnosis | undefined;
  readonly conflict: readonly string[];
  readonly picked: readonly Picked[];
  readonly px: (p: Point2) => Point2;
  readonly scale: number;
  readonly active: boolean;
  readonly onPick: (p: Picked, more: boolean) => void;
  readonly onFocus: (p: Picked) => void;
  readonly onDrag: (d: Drag) => void;
  readonly toMm: (e: { clientX: number; clientY: number }) => Point2;
}

/** Sign of a relation beside what it holds. */
const SIGNS: Partial<Record<Constraint['kind'], string>> = {
  parallel: '∥',
  perpendicular: '⊥',
  tangent: '⌒',
  smooth: '≈',
  equal: '=',
  concentric: '◎',
  symmetric: '⇋',
  collinear: '⋯',
  midpoint: '÷',
  fixed: '⊗',
  horizontal: '▬',
  vertical: '▮',
};

export function Marks(props: Props) {
  const { profile, resolved, diagnosis, conflict, px, active } = props;
  const signs = new Map<string, { at: Point2; list: { sign: string; id: string }[] }>();
  for (const c of profile.constraints) {
    const sign = SIGNS[c.kind];
    if (!sign) continue;
    const refs =
      'curve' in c ? [c.curve] : c.kind === 'symmetric' ? [c.a, c.b] : 'b' in c && 'a' in c ? [c.a, c.b] : 'point' in c ? [c.point] : [];
    // What holds two points level is shown between them, what holds two curves at each of them.
    const places =
      c.kind === 'horizontal' || c.kind === 'vertical'
        ? [pairMiddle(resolved, c.a, c.b)]
        : refs.map((r) => middle(resolved, r) ?? resolved.points.get(r));
    for (const at of places) {
      if (!at) continue;
      const key = `${at.x.toFixed(4)},${at.y.toFixed(4)}`;
      const s = signs.get(key) ?? { at, list: [] };
      s.list.push({ sign, id: c.id });
      signs.set(key, s);
    }
  }
  const places = arrange(props);
  const free = new Map((diagnosis?.free ?? []).map((f) => [f.point, f]));
  return (
    <g>
      {[...signs.values()].map((s) => {
        const q = px(s.at);
        return (
          <text key={`${q.x},${q.y}`} x={q.x + 6} y={q.y + 12} className="select-none text-[9px]" pointerEvents="none">
            {s.list.slice(0, 4).map((k) => (
              <tspan key={k.id} className={conflict.includes(k.id) ? 'fill-madder font-bold' : 'fill-ink3'}>
                {k.sign}
              </tspan>
            ))}
          </text>
        );
      })}
      {places.map((m) => (
        <DimensionMark key={m.c.id} {...props} {...m} />
      ))}
      {active &&
        profile.points.map((p) => {
          const f = free.get(p.id);
          const at = resolved.points.get(p.id);
          if (!f || !at) return null;
          const q = px(at);
          const ways = f.direction
            ? [f.direction]
            : [
                { x: 1, y: 0 },
                { x: 0, y: 1 },
              ];
          return (
            <g key={p.id} pointerEvents="none" data-testid={`free-${p.id}`}>
              {ways.map((w) => (
                <path
                  key={`${w.x}`}
                  d={`M${q.x - w.x * 14} ${q.y + w.y * 14}L${q.x - w.x * 7} ${q.y + w.y * 7}M${q.x + w.x * 7} ${q.y - w.y * 7}L${q.x + w.x * 14} ${q.y - w.y * 14}`}
                  className="stroke-amber"
                  strokeWidth={1.6}
                />
              ))}
            </g>
          );
        })}
      {conflict.map((id) => {
        const c = profile.constraints.find((k) => k.id === id);
        const ref = c && ('curve' in c ? c.curve : 'a' in c ? c.b : 'point' in c ? c.point : undefined);
        const at = ref && (resolved.points.get(ref) ?? middle(resolved, ref));
        if (!at) return null;
        const q = px(at);
        return <circle key={id} cx={q.x} cy={q.y} r={9} fill="url(#hatch)" className="stroke-madder" pointerEvents="none" />;
      })}
      <defs>
        <pattern id="hatch" width={4} height={4} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V4" className="stroke-madder" strokeWidth={1.4} />
        </pattern>
      </defs>
    </g>
  );
}

const pairMiddle = (r: ResolvedProfile, a: string, b: string): Point2 | undefined => {
  const at = (ref: string): Point2 | undefined => (ref === 'origin' ? { x: 0, y: 0 } : r.points.get(ref));
  const [p, q] = [at(a), at(b)];
  return p && q && { x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 };
};

interface Placed {
  readonly c: Dimension;
  readonly anchor: DimensionAnchor;
  readonly words: string;
  /** From the anchor's text place, mm. */
  readonly shift: Point2;
}

const isSmall = (c: Dimension): boolean => c.kind === 'direction' || c.kind === 'weight';

/** Where the words of each dimension stand: where they were dragged to, else as near as they can without covering others. */
function arrange({ profile, resolved, readings, px, scale }: Props): Placed[] {
  const taken: { x0: number; x1: number; y: number }[] = [];
  const box = (c: Dimension, words: string, p: Point2) => {
    const w = words.length * 6.4;
    return isSmall(c) ? { x0: p.x, x1: p.x + w, y: p.y } : { x0: p.x - w / 2, x1: p.x + w / 2, y: p.y };
  };
  const free = (k: { x0: number; x1: number; y: number }): boolean =>
    taken.every((t) => Math.abs(t.y - k.y) > 11.5 || t.x1 < k.x0 - 2 || t.x0 > k.x1 + 2);
  const out: Placed[] = [];
  const dims = profile.constraints.filter(isDimension).sort((a, b) => Number(b.label !== undefined) - Number(a.label !== undefined));
  for (const c of dims) {
    const anchor = anchors(c, resolved);
    if (!anchor) continue;
    const words = wordsOf(c, readings.get(c.id));
    let shift = c.label;
    if (!shift) {
      const start = isSmall(c) ? { x: 8, y: -16 } : { x: 0, y: -5 };
      const base = px(anchor.text);
      const step =
        [0, -12, 12, -24, 24, -36, 36, 48, -48].find((dy) => free(box(c, words, { x: base.x + start.x, y: base.y + start.y + dy }))) ?? 0;
      shift = { x: start.x / scale, y: -(start.y + step) / scale };
    }
    taken.push(box(c, words, px({ x: anchor.text.x + shift.x, y: anchor.text.y + shift.y })));
    out.push({ c, anchor, words, shift });
  }
  return out;
}

function DimensionMark({ c, anchor, words, shift, profile, conflict, picked, px, active, onPick, onFocus, onDrag, toMm }: Props & Placed) {
  const small = isSmall(c);
  const text = { x: anchor.text.x + shift.x, y: anchor.text.y + shift.y };
  const [a, b, t] = [px(anchor.a), px(anchor.b), px(text)];
  const on = picked.some((p) => p.kind === 'constraint' && p.id === c.id);
  const bad = conflict.includes(c.id);
  const colour = bad ? 'madder' : on ? 'teal' : 'ink2';
  const line = c.kind === 'distance' || c.kind === 'across' || c.kind === 'radius' || c.kind === 'diameter' || c.kind === 'offset';
  return (
    <g>
      {line && (
        <g
          pointerEvents="none"
          className={colour === 'teal' ? 'stroke-teal' : colour === 'madder' ? 'stroke-madder' : 'stroke-ink3'}
          opacity={on ? 1 : 0.55}
        >
          <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} strokeWidth={0.8} strokeDasharray={c.driving ? undefined : '3 2'} />
          <Tick at={b} from={a} />
          {c.kind !== 'radius' && <Tick at={a} from={b} />}
        </g>
      )}
      <text
        x={t.x}
        y={t.y}
        textAnchor={small ? 'start' : 'middle'}
        role="button"
        tabIndex={active ? 0 : -1}
        data-dimension={c.id}
        aria-label={`Dimension: ${constraintWords(profile, c)}`}
        className={`cursor-pointer select-none font-mono text-[10.5px] outline-none focus:underline ${colour === 'teal' ? 'fill-teal' : colour === 'madder' ? 'fill-madder' : 'fill-ink'} ${small && !on ? 'opacity-60' : ''}`}
        style={{ paintOrder: 'stroke', stroke: 'var(--color-card)', strokeWidth: 3 }}
        onFocus={() => onFocus({ kind: 'constraint', id: c.id })}
        onPointerDown={(e) => {
          if (!active) return;
          e.stopPropagation();
          onPick({ kind: 'constraint', id: c.id }, false);
          const m = toMm(e);
          onDrag({ kind: 'label', id: c.id, at: { x: m.x - shift.x, y: m.y - shift.y } });
        }}
      >
        {words}
      </text>
    </g>
  );
}

/** A short stroke across the end of a dimension line. */
function Tick({ at, from }: { at: Point2; from: Point2 }) {
  const [dx, dy] = [at.x - from.x, at.y - from.y];
  const l = Math.hypot(dx, dy) || 1;
  const [ux, uy] = [(-dy / l) * 4 + (dx / l) * 2, (dx / l) * 4 + (dy / l) * 2];
  return <line x1={at.x - ux} y1={at.y - uy} x2={at.x + ux} y2={at.y + uy} strokeWidth={1} />;
}
