import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { distance2, nearestOn, type Point2 } from '../../core/curves/planar';
import { evaluateAs } from '../../core/dimensions/expression';
import { breakAtCrossings, extend, softenCorner, trim } from '../../core/profile/alter';
import type { Around } from '../../core/profile/around';
import { insertPoint, removeConstraint, removeCurve, removeDerived, removePoint } from '../../core/profile/draw';
import { projectionOf, removeProjection } from '../../core/profile/follow';
import { scalePicture } from '../../core/profile/picture';
import { type ResolvedProfile, splineChord } from '../../core/profile/resolve';
import { type ProfileDrag, settle, startDrag } from '../../core/profile/session';
import { type DrawOptions, drawShape, PLACES, type Place } from '../../core/profile/shapes';
import { type Keep, type Snap, snap as snapTo } from '../../core/profile/snap';
import { constraintWords } from '../../core/profile/words';
import type { Constraint, Handle, Profile, Project } from '../../core/recipe/schema';
import { shortNumber } from '../../core/units/units';
import { setBench, useBench } from '../state/bench';
import { tableOf } from '../state/project';
import { quickView, stepsOf } from '../state/standing';
import { ask } from '../ui/ask';
import { leaves, type TypedPlace } from './place';
import { type Drag, isAlter, isDraw, type Picked, type Tool, type View } from './tools';

interface Input {
  readonly project: Project;
  readonly profile: Profile;
  readonly resolved: ResolvedProfile | null;
  readonly half: boolean;
  readonly view: View;
  readonly setView: (v: View) => void;
  readonly tool: Tool;
  readonly setTool: (t: Tool) => void;
  readonly pending: readonly Place[];
  readonly setPending: (p: readonly Place[]) => void;
  readonly options: DrawOptions;
  readonly corner: string;
  readonly grid: number;
  /** What stands about the drawing. */
  readonly around: readonly Around[];
  readonly toMm: (e: { clientX: number; clientY: number }) => Point2;
  readonly commit: (p: Profile) => void;
  readonly setDraft: (r: ResolvedProfile | null) => void;
  readonly setPicked: (p: readonly Picked[]) => void;
  readonly setKept: (ids: readonly string[]) => void;
  readonly picked: readonly Picked[];
  readonly focus: () => void;
  readonly setPictureAt: (p: Point2 | null) => void;
}

/** Mouse and keys on the drawing: choosing, dragging with the solver, drawing place by place, altering what is pointed at. */
export function usePointer(i: Input) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const [snap, setSnap] = useState<Snap | null>(null);
  const session = useRef<ProfileDrag | null>(null);
  const moved = useRef(false);
  const labelled = useRef<Profile | null>(null);
  const { project, profile, resolved, view, tool, pending, grid } = i;
  const scope = tableOf(project).scope;

  const show = (r: ResolvedProfile): void => {
    i.setDraft(r);
    const { result, scenes } = useBench.getState();
    setBench({
      quick: quickView(project, stepsOf(project, profile.id), result, scenes, { dragged: { profile: profile.id, resolved: r } }),
    });
  };

  const snapAt = (p: Point2, except: readonly string[] = []): Snap => {
    if (!resolved) return { at: p, reason: '', keep: [] };
    const last = pending[pending.length - 1];
    const s = snapTo(resolved, p, 8 / view.k, grid, {
      except,
      around: i.around,
      ...(last && isDraw(tool) && tool !== 'circle' ? { from: last.at } : {}),
    });
    return i.half && s.at.x < 0 ? { ...s, at: { x: 0, y: s.at.y } } : s;
  };

  const begin = (d: Drag): void => {
    moved.current = false;
    if (d.kind === 'points') session.current = startDrag(profile, scope, { points: d.ids }) ?? null;
    else if (d.kind === 'radius') session.current = startDrag(profile, scope, { radius: d.curve }) ?? null;
    setDrag(d);
  };

  const onMove = (e: React.PointerEvent): void => {
    const at = i.toMm(e);
    switch (drag?.kind) {
      case 'pan':
        i.setView({
          ...drag.view,
          x: drag.view.x - (e.clientX - drag.from.x) / view.k,
          y: drag.view.y + (e.clientY - drag.from.y) / view.k,
        });
        return;
      case 'points': {
        const s = session.current;
        if (!s) return;
        if (!moved.current && distance2(at, drag.at) * view.k < 3) return;
        moved.current = true;
        let to = { x: s.start.x + at.x - drag.at.x, y: s.start.y + at.y - drag.at.y };
        if (drag.ids.length === 1) {
          const n = snapAt(at, drag.ids);
          setSnap(n);
          to = n.at;
        }
        const r = s.move(to.x - s.start.x, to.y - s.start.y);
        if (r.ok) show(r.value);
        return;
      }
      case 'radius': {
        moved.current = true;
        const r = session.current?.move(0, 0, Math.max(grid / 10, Math.round(distance2(at, drag.centre) / grid) * grid));
        if (r?.ok) show(r.value);
        return;
      }
      case 'handle': {
        const next = dragHandle(drag.curve, drag.end, at);
        if (!next) return;
        moved.current = true;
        const s = settle(next, scope);
        if (s.error) return;
        labelled.current = s.profile;
        const again = startDrag(s.profile, scope, { points: [] })?.move(0, 0);
        if (again?.ok) show(again.value);
        return;
      }
      case 'picture': {
        moved.current = true;
        const p = profile.picture;
        if (p) labelled.current = { ...profile, picture: { ...p, x: at.x - drag.at.x, y: at.y - drag.at.y } };
        i.setPictureAt({ x: at.x - drag.at.x, y: at.y - drag.at.y });
        return;
      }
      case 'label': {
        moved.current = true;
        const label = { x: at.x - drag.at.x, y: at.y - drag.at.y };
        labelled.current = {
          ...profile,
          constraints: profile.constraints.map((c) => (c.id === drag.id ? ({ ...c, label } as Constraint) : c)),
        };
        return;
      }
      default:
        setSnap(isDraw(tool) ? snapAt(at) : null);
    }
  };

  const onUp = (): void => {
    if (drag && moved.current) {
      if (drag.kind === 'points' || drag.kind === 'radius') {
        if (session.current) i.commit(session.current.profile());
      } else if ((drag.kind === 'handle' || drag.kind === 'label' || drag.kind === 'picture') && labelled.current)
        i.commit(labelled.current);
      // Where nothing came of it nothing is built, and what was seen meanwhile goes.
      if (!useBench.getState().stale) setBench({ quick: null });
    }
    i.setDraft(null);
    i.setPictureAt(null);
    session.current = null;
    labelled.current = null;
    moved.current = false;
    setDrag(null);
    setSnap(null);
  };

  /** A handle turned and stretched to a place; what a dimension holds stays. */
  const dragHandle = (curveId: string, key: string, at: Point2): Profile | null => {
    const c = profile.curves.find((k) => k.id === curveId);
    if (c?.kind !== 'spline' || !resolved) return null;
    const tip = resolved.points.get(key === 'start' ? c.from : key === 'end' ? c.to : key)!;
    const chord = splineChord(c, resolved.points);
    const d = { x: at.x - tip.x, y: at.y - tip.y };
    const raw = (Math.atan2(d.y, d.x) * 180) / Math.PI;
    // Within two degrees of the level or the plumb line the handle falls into it.
    const level = Math.round(raw / 90) * 90;
    const angle = Math.abs(raw - level) < 2 ? level : Math.round(raw * 10) / 10;
    const weight = Math.round(Math.min(4, Math.max(0.05, (3 * Math.hypot(d.x, d.y)) / chord)) * 100) / 100;
    const handle: Handle = { angle, weight };
    const next = key === 'start' || key === 'end' ? { ...c, [key]: handle } : { ...c, at: { ...c.at, [key]: handle } };
    return { ...profile, curves: profile.curves.map((k) => (k.id === curveId ? next : k)) };
  };

  /** Ends what is being drawn with the places given so far. */
  const finish = (places: readonly Place[]): void => {
    if (!isDraw(tool)) return;
    if (places.length < PLACES[tool].count) {
      i.setPending([]);
      return;
    }
    const r = drawShape(profile, tool, places, i.options);
    if (!r.ok) {
      toast(r.error);
      i.setPending(tool === 'tangent-arc' ? [] : places.slice(0, -1));
      return;
    }
    i.commit(r.value.profile);
    i.setKept(r.value.kept);
    i.setPicked(r.value.curves.map((id) => ({ kind: 'curve' as const, id })).slice(0, 1));
    // A line goes on from its end, unless it closed onto something drawn before.
    const last = places[places.length - 1]!;
    const chains = tool === 'line' || tool === 'tangent-arc';
    const end = r.value.end;
    const at = end && r.value.profile.points.find((p) => p.id === end);
    i.setPending(chains && at && last.point === undefined ? [{ at, point: end }] : []);
  };

  const take = (p: Place): void => {
    if (!isDraw(tool)) return;
    const need = PLACES[tool];
    const last = pending[pending.length - 1];
    if (last && distance2(last.at, p.at) < 1e-6) {
      if (need.more) finish(pending);
      return;
    }
    const places = [...pending, p];
    if (!need.more && places.length === need.count) finish(places);
    else i.setPending(places);
  };

  /** A typed place: it falls onto what is exactly there and onto nothing else. What follows named dimensions is held by them. */
  const place = ({ x, y, typed, held, size }: TypedPlace): void => {
    const at = { x, y };
    const own = { at, ...(typed ? { typed } : {}), ...(size ? { size } : {}) };
    if (!resolved) return take(own);
    const s = snapTo(resolved, at, 1e-6, 1e-6, lastFrom());
    if (s.point) return take({ at, keep: s.keep, point: s.point });
    // A coordinate that is held is not held twice.
    const keep: Keep[] = s.keep.map((k) => (point, before) => {
      const c = k(point, before);
      return c && held && !leaves(c, held) ? undefined : c;
    });
    take({ ...own, keep });
  };
  const lastFrom = () => {
    const last = pending[pending.length - 1];
    return last ? { from: last.at } : {};
  };

  /** Alters the curve or the corner at a place on the board. */
  const alterAt = (at: Point2): void => {
    if (!resolved || !isAlter(tool)) return;
    if (tool === 'round' || tool === 'cut') {
      let best: { id: string; d: number } | undefined;
      for (const [id, p] of resolved.points) {
        const d = distance2(p, at);
        if (!best || d < best.d) best = { id, d };
      }
      if (!best || best.d * view.k > 14) {
        toast('Click on a corner point');
        return;
      }
      soften(best.id);
      return;
    }
    let best: { id: string; t: number; d: number } | undefined;
    for (const c of resolved.curves) {
      if (!c.source || c.source.kind === 'text') continue;
      const n = nearestOn(c.curve, at);
      if (!best || n.distance < best.d) best = { id: c.id, t: n.t, d: n.distance };
    }
    if (!best || best.d * view.k > 14) {
      toast('Click on a curve');
      return;
    }
    if (profile.followed?.has(best.id)) {
      toast('This curve follows a body and can’t be altered here');
      return;
    }
    if (tool === 'divide') {
      const r = insertPoint(profile, resolved, best.id, best.t);
      if (!r) {
        toast('Lines, arcs and splines through points take a point');
        return;
      }
      i.commit(r.profile);
      i.setTool('select');
      i.setPicked([{ kind: 'point', id: r.id }]);
      return;
    }
    const r =
      tool === 'trim'
        ? trim(profile, resolved, best.id, best.t)
        : tool === 'extend'
          ? extend(profile, resolved, best.id, best.t)
          : breakAtCrossings(profile, resolved, best.id);
    if (r.ok) i.commit(r.value);
    else toast(r.error);
  };

  const soften = (point: string): void => {
    if (!resolved || (tool !== 'round' && tool !== 'cut')) return;
    const v = evaluateAs(i.corner, 'length', scope);
    const r = v.ok ? softenCorner(profile, resolved, point, tool, i.corner, v.value) : v;
    if (r.ok) i.commit(r.value);
    else toast(r.error);
  };

  /** Two places on the picture, then the length between them. */
  const scaleAt = (at: Point2): void => {
    const first = pending[0];
    if (!first) {
      i.setPending([{ at }]);
      return;
    }
    i.setTool('select');
    ask({
      title: 'How far apart are the two places?',
      initial: `${shortNumber(distance2(first.at, at), 1)} mm`,
      check: (t) => {
        const v = evaluateAs(t, 'length', scope);
        return v.ok && profile.picture ? scalePicture(profile.picture, first.at, at, v.value) : v;
      },
      done: (t) => {
        const v = evaluateAs(t, 'length', scope);
        const r = v.ok && profile.picture ? scalePicture(profile.picture, first.at, at, v.value) : undefined;
        if (r?.ok) i.commit({ ...profile, picture: r.value });
      },
    });
  };

  const onDown = (e: React.PointerEvent): void => {
    if (e.button === 1 || e.button === 2 || (e.button === 0 && e.shiftKey)) {
      setDrag({ kind: 'pan', from: { x: e.clientX, y: e.clientY }, view });
      return;
    }
    const at = i.toMm(e);
    if (tool === 'select') {
      i.focus();
      i.setPicked([]);
      const p = profile.picture;
      if (p && !p.locked && at.x >= p.x && at.x <= p.x + p.width && at.y >= p.y && at.y <= p.y + p.width * p.ratio) {
        begin({ kind: 'picture', at: { x: at.x - p.x, y: at.y - p.y } });
        return;
      }
      setDrag({ kind: 'pan', from: { x: e.clientX, y: e.clientY }, view });
      return;
    }
    if (isAlter(tool)) return alterAt(at);
    if (tool === 'scale-picture') return scaleAt(at);
    const s = snapAt(at);
    take({ at: s.at, keep: s.keep, ...(s.point ? { point: s.point } : {}) });
  };

  const remove = (): void => {
    if (i.picked.length === 0) return;
    i.commit(
      i.picked.reduce((p, k) => {
        switch (k.kind) {
          case 'point':
            return profile.followed?.has(k.id) ? p : removePoint(p, k.id);
          case 'curve': {
            const followed = profile.followed?.has(k.id) && projectionOf(profile, k.id);
            return followed ? removeProjection(p, followed.id) : removeCurve(p, k.id);
          }
          case 'constraint':
            return removeConstraint(p, k.id);
          case 'derived':
            return removeDerived(p, k.id);
          default:
            return p;
        }
      }, profile),
    );
    i.setPicked([]);
  };

  const onKey = (e: React.KeyboardEvent): void => {
    if (e.target instanceof HTMLInputElement) return;
    const point = i.picked.length === 1 && i.picked[0]!.kind === 'point' ? i.picked[0]!.id : undefined;
    if (e.key === 'Escape') {
      i.setPending([]);
      i.setTool('select');
      i.setDraft(null);
      setDrag(null);
      setBench({ quick: null });
    } else if (e.key === 'Enter' && isDraw(tool) && pending.length > 0) finish(pending);
    // While something is picked on the stage, the key takes back what was picked there.
    else if ((e.key === 'Delete' || e.key === 'Backspace') && i.picked.length > 0 && !useBench.getState().picking) remove();
    else if (e.key.startsWith('Arrow') && point && resolved) {
      e.preventDefault();
      const step = e.shiftKey ? grid * 10 : grid;
      const s = startDrag(profile, scope, { points: [point] });
      s?.move(
        e.key === 'ArrowRight' ? step : e.key === 'ArrowLeft' ? -step : 0,
        e.key === 'ArrowUp' ? step : e.key === 'ArrowDown' ? -step : 0,
      );
      if (s) i.commit(s.profile());
    }
  };

  const onWheel = (e: React.WheelEvent): void => {
    const at = i.toMm(e);
    const k = Math.min(400, Math.max(0.1, view.k * Math.exp(-e.deltaY * 0.0015)));
    i.setView({ k, x: at.x + ((view.x - at.x) * view.k) / k, y: at.y + ((view.y - at.y) * view.k) / k });
  };

  const keptWords = (id: string): string => {
    const c = profile.constraints.find((k) => k.id === id);
    return c ? constraintWords(profile, c) : '';
  };

  return { snap, begin, onMove, onUp, onDown, onKey, onWheel, finish, place, soften, remove, keptWords };
}
