import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { distance2, flatten, type Point2, pointAt } from '../../core/curves/planar';
import { addCurve, addPoint, insertPoint, isHeld, movePoint, removeCurve, removePoint, type Snap, snap } from '../../core/profile/draw';
import { areaAndCentroid, findOutline, outlineLength, turnedVolume } from '../../core/profile/outline';
import { fixPole, readPoles } from '../../core/profile/pole';
import { resolveProfile, splineChord } from '../../core/profile/resolve';
import { setProfile } from '../../core/recipe/edit';
import type { Handle, Profile, Project } from '../../core/recipe/schema';
import { fixed, formatLength, formatVolume, shortNumber } from '../../core/units/units';
import { setBench, useBench } from '../state/bench';
import { change, tableOf } from '../state/project';
import { BoardFields } from './BoardFields';
import { Drawing, Paper } from './Drawing';
import { previewMeshes } from './preview';
import { type Drag, GRIDS, type Picked, TOOLS, type Tool, type View } from './tools';

/** The drafting board: half a profile beside its axis, the body on the stage turning with every drag. */
export function Board({ project, profile }: { project: Project; profile: Profile }) {
  const svg = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ w: 600, h: 300 });
  const [view, setView] = useState<View>({ x: 0, y: 50, k: 2 });
  const [tool, setTool] = useState<Tool>('select');
  const [picked, setPicked] = useState<Picked>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [draft, setDraft] = useState<Profile | null>(null);
  const [pending, setPending] = useState<Snap[]>([]);
  const [pointer, setPointer] = useState<Snap | null>(null);
  const shown = draft ?? profile;
  const scope = tableOf(project).scope;
  const resolved = useMemo(() => resolveProfile(shown, scope), [shown, scope]);
  const outline = useMemo(() => (resolved.ok ? findOutline(resolved.value, shown.name) : null), [resolved, shown.name]);
  const poles = useMemo(() => (outline?.ok ? readPoles(outline.value) : []), [outline]);
  const grid = GRIDS.find((g) => g * view.k >= 7) ?? 100;

  useEffect(() => {
    const el = svg.current!;
    const watch = new ResizeObserver(() => setSize({ w: el.clientWidth, h: el.clientHeight }));
    watch.observe(el);
    return () => watch.disconnect();
  }, []);

  const showAll = useCallback(() => {
    const r = resolveProfile(profile, scope);
    const el = svg.current;
    const pts = r.ok ? [...r.value.points.values(), ...r.value.curves.flatMap((c) => flatten(c.curve, 0.5))] : [];
    if (!el || el.clientWidth === 0) return;
    const w = Math.max(20, ...pts.map((p) => Math.abs(p.x)));
    const lo = Math.min(0, ...pts.map((p) => p.y));
    const hi = Math.max(pts.length > 0 ? -Infinity : 60, ...pts.map((p) => p.y));
    const k = Math.min((el.clientWidth - 60) / (2.5 * w), (el.clientHeight - 44) / Math.max(10, hi - lo));
    setView({ x: 0, y: (lo + hi) / 2, k: Math.min(200, Math.max(0.2, k)) });
  }, [profile, scope]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: fits when another profile is put on the board, not while drawing on one
  useEffect(() => {
    showAll();
    setPicked(null);
    setPending([]);
    setTool(profile.curves.length === 0 ? 'line' : 'select');
  }, [profile.id, size.w > 0 && size.h > 0]);

  const toMm = (e: { clientX: number; clientY: number }): Point2 => {
    const box = svg.current!.getBoundingClientRect();
    return { x: view.x + (e.clientX - box.left - size.w / 2) / view.k, y: view.y - (e.clientY - box.top - size.h / 2) / view.k };
  };
  const px = (p: Point2): Point2 => ({ x: size.w / 2 + (p.x - view.x) * view.k, y: size.h / 2 - (p.y - view.y) * view.k });
  const path = (pts: readonly Point2[], mirror = false): string =>
    pts
      .map((p, i) => {
        const q = px(mirror ? { x: -p.x, y: p.y } : p);
        return `${i === 0 ? 'M' : 'L'}${q.x.toFixed(2)} ${q.y.toFixed(2)}`;
      })
      .join('');
  const commit = (next: Profile): void => change((p) => setProfile(p, next));

  // The stage turns with the board: no kernel is asked until the drag ends.
  const showDraft = (next: Profile): void => {
    setDraft(next);
    const meshes = previewMeshes(project, next);
    if (meshes) setBench({ preview: meshes });
  };

  const snapAt = (p: Point2, except?: string): Snap =>
    resolved.ok ? snap(resolved.value, p, 8 / view.k, grid, except) : { at: p, reason: '' };

  const onMove = (e: React.PointerEvent): void => {
    const at = toMm(e);
    if (drag?.kind === 'pan') {
      setView({ ...drag.view, x: drag.view.x - (e.clientX - drag.from.x) / view.k, y: drag.view.y + (e.clientY - drag.from.y) / view.k });
      return;
    }
    if (drag?.kind === 'point') {
      const s = snapAt(at, drag.id);
      setPointer(s);
      showDraft(movePoint(profile, drag.id, { x: Math.max(0, s.at.x), y: s.at.y }));
      return;
    }
    if (drag?.kind === 'handle') {
      const next = dragHandle(profile, drag.curve, drag.end, at);
      if (next) showDraft(next);
      return;
    }
    setPointer(tool === 'select' ? null : snapAt(at));
  };

  const onUp = (): void => {
    if (drag && drag.kind !== 'pan' && draft) {
      commit(draft);
      setDraft(null);
    }
    setDrag(null);
    setPointer(null);
  };

  const dragHandle = (from: Profile, curveId: string, end: 'start' | 'end', at: Point2): Profile | null => {
    const c = from.curves.find((k) => k.id === curveId);
    if (c?.kind !== 'spline' || !resolved.ok) return null;
    const tip = resolved.value.points.get(end === 'start' ? c.from : c.to)!;
    const chord = splineChord(c, resolved.value.points);
    const d = { x: at.x - tip.x, y: at.y - tip.y };
    const angle = (Math.atan2(d.y, d.x) * 180) / Math.PI;
    // Within two degrees of the level or the plumb line the handle falls into it.
    const level = Math.round(angle / 90) * 90;
    const a = Math.abs(angle - level) < 2 ? level : angle;
    const weight = Math.min(4, Math.max(0.05, (3 * Math.hypot(d.x, d.y)) / chord));
    const handle: Handle = {
      angle: isHeld(c[end]?.angle ?? '0') ? c[end]!.angle : `${shortNumber(a, 1)}°`,
      weight: shortNumber(weight, 2),
    };
    return { ...from, curves: from.curves.map((k) => (k.id === curveId ? { ...c, [end]: handle } : k)) };
  };
  /** Ends the curve being drawn with the places clicked so far. */
  const finish = (places: readonly Snap[]): void => {
    const enough = tool === 'arc' ? 3 : 2;
    if (places.length < enough) {
      setPending([]);
      return;
    }
    let next = profile;
    const ids = places.map((s) => {
      if (s.point && next.points.some((p) => p.id === s.point)) return s.point;
      const r = addPoint(next, { x: Math.max(0, s.at.x), y: s.at.y });
      next = r.profile;
      return r.id;
    });
    const made =
      tool === 'line'
        ? addCurve(next, { kind: 'line', from: ids[0]!, to: ids[1]! })
        : tool === 'arc'
          ? addCurve(next, { kind: 'arc', from: ids[0]!, to: ids[1]!, through: ids[2]! })
          : addCurve(next, { kind: 'spline', from: ids[0]!, to: ids[ids.length - 1]!, through: ids.slice(1, -1) });
    commit(made.profile);
    const end = tool === 'arc' || tool === 'line' ? 1 : ids.length - 1;
    const closes = places[end]!.point !== undefined;
    // The next curve goes on from this one's end, unless it closed onto something drawn before.
    setPending(closes || tool === 'spline' ? [] : [{ ...places[end]!, point: ids[end]! }]);
  };

  const onDown = (e: React.PointerEvent): void => {
    if (e.button === 1 || e.button === 2 || (e.button === 0 && e.shiftKey)) {
      setDrag({ kind: 'pan', from: { x: e.clientX, y: e.clientY }, view });
      return;
    }
    svg.current?.focus();
    const at = toMm(e);
    if (tool === 'select') {
      setPicked(null);
      setDrag({ kind: 'pan', from: { x: e.clientX, y: e.clientY }, view });
      return;
    }
    if (tool === 'point') {
      insertAt(at);
      return;
    }
    const s = snapAt(at);
    const last = pending[pending.length - 1];
    if (tool === 'spline' && last && distance2(last.at, s.at) < 1e-6) {
      finish(pending);
      return;
    }
    if (last && distance2(last.at, s.at) < 1e-6) return;
    const places = [...pending, s];
    if ((tool === 'line' && places.length === 2) || (tool === 'arc' && places.length === 3)) finish(places);
    else setPending(places);
  };

  const insertAt = (at: Point2): void => {
    if (!resolved.ok) return;
    let best: { id: string; t: number; d: number } | undefined;
    for (const c of resolved.value.curves)
      for (let i = 1; i < 200; i++) {
        const d = distance2(pointAt(c.curve, i / 200), at);
        if (!best || d < best.d) best = { id: c.id, t: i / 200, d };
      }
    if (!best || best.d * view.k > 14) {
      toast('Click on a curve to put a point on it');
      return;
    }
    const r = insertPoint(profile, resolved.value, best.id, best.t);
    if (!r) return;
    commit(r.profile);
    setPicked({ kind: 'point', id: r.id });
    setTool('select');
  };

  const remove = (): void => {
    if (!picked) return;
    commit(picked.kind === 'point' ? removePoint(profile, picked.id) : removeCurve(profile, picked.id));
    setPicked(null);
  };

  const onKey = (e: React.KeyboardEvent): void => {
    if (e.target instanceof HTMLInputElement) return;
    if (e.key === 'Escape') {
      setPending([]);
      setTool('select');
      setDraft(null);
      setDrag(null);
      setBench({ preview: null });
    } else if (e.key === 'Enter' && pending.length > 0) finish(pending);
    else if ((e.key === 'Delete' || e.key === 'Backspace') && picked) remove();
    else if (e.key.startsWith('Arrow') && picked?.kind === 'point' && resolved.ok) {
      e.preventDefault();
      const p = resolved.value.points.get(picked.id);
      if (!p) return;
      const step = e.shiftKey ? grid * 10 : grid;
      commit(
        movePoint(profile, picked.id, {
          x: Math.max(0, p.x + (e.key === 'ArrowRight' ? step : e.key === 'ArrowLeft' ? -step : 0)),
          y: p.y + (e.key === 'ArrowUp' ? step : e.key === 'ArrowDown' ? -step : 0),
        }),
      );
    }
  };

  const onWheel = (e: React.WheelEvent): void => {
    const at = toMm(e);
    const k = Math.min(400, Math.max(0.1, view.k * Math.exp(-e.deltaY * 0.0015)));
    setView({ k, x: at.x + ((view.x - at.x) * view.k) / k, y: at.y + ((view.y - at.y) * view.k) / k });
  };

  const problem = !resolved.ok ? resolved.error : outline && !outline.ok ? outline.error : null;
  const filled = outline?.ok ? outline.value.curves.flatMap(({ curve }) => flatten(curve, 0.3 / view.k + 0.01)) : [];
  const axisX = px({ x: 0, y: 0 }).x;
  const stats = useMemo(
    () =>
      outline?.ok
        ? { area: Math.abs(areaAndCentroid(outline.value).area), length: outlineLength(outline.value), volume: turnedVolume(outline.value) }
        : null,
    [outline],
  );
  const bad = poles.filter((p) => p.verdict !== 'smooth');

  return (
    <section aria-label="Board" className="flex h-full flex-col bg-card">
      <div className="flex h-8 shrink-0 items-center gap-2 border-b border-line px-2">
        <select
          aria-label="Profile on the board"
          className="chip font-semibold"
          value={profile.id}
          onChange={(e) => setBench({ profile: e.target.value })}
        >
          {project.profiles.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
        <div role="toolbar" aria-label="Drawing tools" className="flex shrink-0 gap-0.5 whitespace-nowrap">
          {TOOLS.map(([t, words, hint]) => (
            <button
              key={t}
              type="button"
              aria-pressed={tool === t}
              title={hint}
              className={`rounded-xs px-2 py-0.5 ${tool === t ? 'bg-teal text-panel' : 'hover:text-teal'}`}
              onClick={() => {
                setTool(t);
                setPending([]);
              }}
            >
              {words}
            </button>
          ))}
          <button type="button" className="rounded-xs px-2 py-0.5 hover:text-teal" onClick={showAll}>
            Fit
          </button>
        </div>
        <span className="ml-auto truncate text-[12px] text-ink2" data-testid="board-hint">
          {tool !== 'select'
            ? TOOLS.find(([t]) => t === tool)![2]
            : stats
              ? `turned ${formatVolume(stats.volume)} · half ${fixed(stats.area / 100, 2)} cm² · outline ${formatLength(stats.length, project.units, 1)}`
              : ''}
        </span>
      </div>
      <div className="relative min-h-0 flex-1">
        <svg
          ref={svg}
          tabIndex={0}
          role="application"
          aria-label={`Drawing of ${profile.name}`}
          className={`h-full w-full touch-none ${tool === 'select' ? '' : 'cursor-crosshair'}`}
          onPointerMove={onMove}
          onPointerUp={onUp}
          onPointerLeave={onUp}
          onPointerDown={onDown}
          onWheel={onWheel}
          onKeyDown={onKey}
          onContextMenu={(e) => e.preventDefault()}
        >
          <Paper view={view} size={size} grid={grid} />
          {filled.length > 0 && (
            <>
              <path d={`${path(filled)}${outline?.ok && outline.value.onAxis ? '' : 'Z'}`} className="fill-[#e9e3d3]/60" />
              <path d={path(filled, true)} className="fill-[#e9e3d3]/30" />
            </>
          )}
          <line x1={axisX} x2={axisX} y1={0} y2={size.h} className="stroke-teal" strokeWidth={1} strokeDasharray="12 3 2 3" />
          {resolved.ok && (
            <Drawing
              profile={shown}
              resolved={resolved.value}
              tool={tool}
              picked={picked}
              scale={view.k}
              px={px}
              path={path}
              onPick={setPicked}
              onDrag={setDrag}
            />
          )}
          {pending.length > 0 && pointer && (
            <path d={path([...pending.map((s) => s.at), pointer.at])} fill="none" className="stroke-teal" strokeDasharray="4 3" />
          )}
          {pending.map((s) => {
            const q = px(s.at);
            return <circle key={`${s.at.x},${s.at.y}`} cx={q.x} cy={q.y} r={3.5} className="fill-teal" />;
          })}
          {pointer && (
            <g pointerEvents="none">
              <circle cx={px(pointer.at).x} cy={px(pointer.at).y} r={5} className="fill-none stroke-teal" />
              <text x={px(pointer.at).x + 10} y={px(pointer.at).y - 8} className="fill-ink font-mono text-[11px]">
                r {fixed(pointer.at.x, 2)} · h {fixed(pointer.at.y, 2)} — {pointer.reason}
              </text>
            </g>
          )}
          {poles.map((p) => {
            const q = px(p.at);
            const ok = p.verdict === 'smooth';
            return (
              <text
                key={`${p.curveId}${p.at.y}`}
                x={q.x - 8}
                y={q.y + (p.at.y > view.y ? -7 : 15)}
                textAnchor="end"
                className={`text-[11px] ${ok ? 'fill-teal' : 'fill-madder font-semibold'}`}
                pointerEvents="none"
              >
                {ok ? '90° at the pole' : `${fixed(p.angle, 1)}° makes a ${p.verdict}`}
              </text>
            );
          })}
          {problem?.at && (
            <g pointerEvents="none" data-testid="profile-problem-mark">
              <circle cx={px(problem.at).x} cy={px(problem.at).y} r={11} className="fill-none stroke-madder" strokeWidth={2} />
              <path d={`M${px(problem.at).x - 5} ${px(problem.at).y - 5}l10 10m0-10l-10 10`} className="stroke-madder" strokeWidth={2} />
            </g>
          )}
        </svg>
        <BoardFields
          project={project}
          profile={profile}
          resolved={resolved.ok ? resolved.value : null}
          picked={picked}
          onChange={commit}
          onRemove={remove}
        />
        <div className="pointer-events-none absolute left-2 top-2 flex max-w-[60%] flex-col items-start gap-1">
          {problem && (
            <p role="alert" className="pointer-events-auto bg-madderwash px-2 py-1 text-madder">
              ■ {problem.message}
            </p>
          )}
          {bad.map((p) => (
            <p key={p.curveId + p.at.y} className="pointer-events-auto bg-amberwash px-2 py-1 text-amber">
              ▲ The profile meets the axis at {fixed(p.angle, 1)}°, which turns a {p.verdict} at height {fixed(p.at.y, 1)} mm.{' '}
              {resolved.ok && (
                <button type="button" className="link text-amber!" onClick={() => commit(fixPole(profile, p, resolved.value.points))}>
                  Fix: {p.fix}
                </button>
              )}
            </p>
          ))}
          {profile.curves.length === 0 && (
            <p className="bg-panel px-2 py-1 text-ink2">
              Draw half of the body to the right of the axis. Start on the axis, end on the axis; or draw a closed ring beside it.
            </p>
          )}
        </div>
      </div>
    </section>
  );
}

/** The board for the profile that is chosen, or the first one. */
export function BoardPane({ project }: { project: Project }) {
  const chosen = useBench((s) => s.profile);
  const profile = project.profiles.find((p) => p.id === chosen) ?? project.profiles[0];
  if (!profile) return <p className="p-4 text-ink2">There is no profile yet: choose “New half profile” among the next steps.</p>;
  return <Board project={project} profile={profile} />;
}
