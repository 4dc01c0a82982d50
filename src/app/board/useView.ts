/** What of a drawing the board shows: fitted to it, kept in view while it grows, or set by hand. */
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { flatten, type Point2 } from '../../core/curves/planar';
import type { Scope } from '../../core/dimensions/expression';
import type { Around } from '../../core/profile/around';
import type { resolveProfile } from '../../core/profile/resolve';
import { asDrawn } from '../../core/profile/session';
import type { Profile } from '../../core/recipe/schema';
import type { View } from './tools';

/** What is drawn is shown as if it were at least so large, mm. */
const LEAST = 2;
/** Less than this share of the board each way is small. */
const SMALL = 0.25;

/** Lower than this there is no board but its strip, px. */
const FOLDED = 24;

export interface Space {
  /** px */
  readonly size: { readonly w: number; readonly h: number };
  /** There is no board but its strip. */
  readonly folded: boolean;
}

/** The room the drawing has. It is not known before the board stands: until then there is nothing to fit to. */
export function useSpace(svg: RefObject<SVGSVGElement | null>): Space {
  const [size, setSize] = useState({ w: 600, h: 0 });
  useEffect(() => {
    const el = svg.current!;
    const watch = new ResizeObserver(() => setSize({ w: el.clientWidth, h: el.clientHeight }));
    watch.observe(el);
    return () => watch.disconnect();
  }, [svg]);
  return { size, folded: size.h < FOLDED };
}

export function useView(
  svg: RefObject<SVGSVGElement | null>,
  { size, folded }: Space,
  profile: Profile,
  solved: ReturnType<typeof resolveProfile>,
  scope: Scope,
  around: readonly Around[],
  /** Something drawn encloses something. */
  closed: boolean,
) {
  const [view, setView] = useState<View>({ x: 0, y: 50, k: 2 });
  const { half } = profile;

  /** @returns whether there was room to fit it to */
  const showAll = useCallback((): boolean => {
    const el = svg.current;
    if (!el || el.clientWidth === 0 || el.clientHeight < FOLDED) return false;
    const drawn = solved.ok ? solved : asDrawn(profile, scope);
    const own = drawn.ok ? [...drawn.value.points.values(), ...drawn.value.curves.flatMap((c) => flatten(c.curve, 0.5))] : [];
    // Where nothing is drawn yet, what it will be drawn about.
    const pts = own.length > 0 ? own : around.flatMap((a) => a.lines.flat());
    const w = Math.max(own.length > 0 ? LEAST / 2 : 20, ...pts.map((p) => Math.abs(p.x)));
    // An empty half profile stands on its origin, an empty drawing lies about it.
    const empty = pts.length === 0 ? (half ? [0, 60] : [-30, 30]) : [];
    const lo = Math.min(0, ...empty, ...pts.map((p) => p.y));
    const hi = Math.max(...empty, ...pts.map((p) => p.y));
    // Values stand at the right edge; a drawing to both sides keeps clear of them.
    const beside = half ? 0 : Math.min(232, el.clientWidth * 0.35);
    const k = Math.min((el.clientWidth - beside - 60) / (2.5 * w), (el.clientHeight - 70) / Math.max(own.length > 0 ? LEAST : 10, hi - lo));
    const scale = Math.min(200, Math.max(0.2, k));
    setView({ x: beside / 2 / scale, y: (lo + hi) / 2, k: scale });
    return true;
  }, [svg, half, profile, scope, solved, around]);
  const px = (p: Point2): Point2 => ({ x: size.w / 2 + (p.x - view.x) * view.k, y: size.h / 2 - (p.y - view.y) * view.k });
  // What is drawn stays in view while it grows, unless the view was set by hand.
  const byHand = useRef('');
  const setViewByHand: typeof setView = (v) => {
    byHand.current = profile.id;
    setView(v);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at when the drawing changes, not when the view does
  useEffect(() => {
    if (byHand.current === profile.id || !solved.ok || size.w === 0 || folded) return;
    const outside = [...solved.value.points.values()].some((p) => {
      const q = px(p);
      return q.x < 8 || q.x > size.w - 8 || q.y < 8 || q.y > size.h - 8;
    });
    if (outside) showAll();
  }, [profile]);
  // Once it encloses something, a drawing that is small beside what it was drawn about is shown large.
  const enlarged = useRef('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at when it is closed, not when the view changes
  useEffect(() => {
    if (!closed || enlarged.current === profile.id || byHand.current === profile.id || !solved.ok || size.w === 0 || folded) return;
    enlarged.current = profile.id;
    const drawn = solved.value.curves.flatMap((c) => flatten(c.curve, 0.5)).map(px);
    const reach = (f: (p: Point2) => number): number => Math.max(...drawn.map(f)) - Math.min(...drawn.map(f));
    if (reach((p) => p.x) < SMALL * size.w && reach((p) => p.y) < SMALL * size.h) showAll();
  }, [closed, profile.id]);
  // What an empty drawing will be drawn about comes a moment after it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at when that comes, not when the view changes
  useEffect(() => {
    if (profile.curves.length === 0 && profile.points.length === 0 && around.length > 0 && byHand.current !== profile.id) showAll();
  }, [around]);
  const toMm = (e: { clientX: number; clientY: number }): Point2 => {
    const box = svg.current!.getBoundingClientRect();
    return { x: view.x + (e.clientX - box.left - size.w / 2) / view.k, y: view.y - (e.clientY - box.top - size.h / 2) / view.k };
  };
  return { view, setView: setViewByHand, showAll, px, toMm };
}
