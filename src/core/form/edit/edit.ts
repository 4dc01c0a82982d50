/** One edit of a cage: its symmetry is kept, and what comes of it is a cage again, or it is refused in words and nothing has changed. */
import { fail, ok, type Result } from '../../result';
import { type CageOf, numbered, type P3 } from '../cage';
import { movedAlong, type Region, regionsApart } from './apart';
import { bridge, type FillWay, fill } from './join';
import { besideRows, insertLoops, keepingShape } from './loops';
import {
  flatten,
  makeRound,
  move,
  moveAlongNormals,
  onBody,
  type Places,
  pull,
  pullBody,
  rotate,
  roundOnBody,
  scale,
  slide,
  softly,
  spaceEvenly,
  straighten,
} from './place';
import {
  awayFromFaces,
  connect,
  corner,
  crease,
  dissolve,
  extrudeApart,
  extrudeEdges,
  extrudeFaces,
  groupsWithin,
  inset,
  type Made,
  outwards,
  remove,
  splitEdges,
  splitOnto,
  weld,
} from './reshape';
import { countOf, directedPartners, middleOf, type Picked, pickedAs, verticesOf, withPartners } from './select';
import { carried, type Partners, partnersOf, type Symmetry, snapped, symmetryWords } from './symmetry';
import { type Edge, type Topology, topologyOf } from './topology';

/** Faces that touch their own images: as one region with them, or each image for itself. */
export type Regions = 'one' | 'apart';

/** Lengths in mm, angles in rad. */
export type Edit =
  | { readonly do: 'move'; readonly by: P3; readonly soft?: number }
  | { readonly do: 'move-normal'; readonly distance: number; readonly soft?: number }
  | { readonly do: 'scale'; readonly by: P3; readonly about?: P3; readonly soft?: number }
  | { readonly do: 'rotate'; readonly axis: P3; readonly angle: number; readonly about?: P3; readonly soft?: number }
  | { readonly do: 'place'; readonly at: P3 }
  | { readonly do: 'flatten'; readonly to: 'fit' | 'x' | 'y' | 'z' }
  | { readonly do: 'straighten' }
  | { readonly do: 'space-evenly' }
  | { readonly do: 'make-round'; readonly diameter: number | null; readonly even: boolean; readonly onBody: boolean }
  | { readonly do: 'slide'; readonly share: number }
  /** The vertices themselves, or so that the smooth body under them lies on it. */
  | { readonly do: 'pull'; readonly nearest: (place: P3) => P3 | undefined; readonly onBody: boolean }
  | { readonly do: 'extrude'; readonly distance: number; readonly as: Regions }
  | { readonly do: 'extrude-by'; readonly by: P3; readonly as: Regions }
  | { readonly do: 'inset'; readonly distance: number; readonly as: Regions | 'each' }
  | { readonly do: 'insert-loop'; readonly share: number; readonly keepShape: boolean }
  | { readonly do: 'bevel'; readonly distance: number }
  | { readonly do: 'bridge'; readonly rings: number; readonly turn: number }
  | { readonly do: 'fill'; readonly way: FillWay }
  | { readonly do: 'weld'; readonly within: number | null }
  /** @param onto the vertex that is to lie on the edge, instead of a new one */
  | { readonly do: 'split'; readonly share: number; readonly onto?: number }
  | { readonly do: 'connect' }
  | { readonly do: 'delete' }
  | { readonly do: 'dissolve' }
  | { readonly do: 'crease'; readonly weight: unknown }
  | { readonly do: 'uncrease' };

export interface Edited<W> {
  readonly cage: CageOf<W>;
  readonly picked: Picked;
  /** What is worth telling of it. */
  readonly note: string | null;
}

/** What a cage is edited with. */
export interface Setting<W> {
  readonly symmetry: Symmetry;
  /** The weight a text or number of a crease stands for. */
  readonly weigh: (weight: W) => number;
}

/** Larger places are mistakes, mm. */
const FARTHEST = 1e5;

/** Applies an edit to what is picked and all its symmetric partners. */
export function applyEdit<W>(cage: CageOf<W>, picked: Picked, edit: Edit, setting: Setting<W>): Result<Edited<W>, string> {
  const t = topologyOf(cage);
  if (!t.ok) return fail(t.error.what);
  if (countOf(picked) === 0) return fail('nothing is picked');
  const partners = partnersOf(cage, setting.symmetry);
  if (!partners.ok)
    return fail(`The cage is not ${symmetryWords(setting.symmetry)}: ${partners.error.what}. Mend that, or switch the symmetry off.`);
  const full = withPartners(cage, picked, partners.value);
  const found = attempts(cage, picked, full, edit, t.value, partners.value, setting);
  if (!found.ok) return found;
  let first: string | undefined;
  for (const made of found.value) {
    const good = checked(made, setting.symmetry);
    if (good.ok) return ok({ ...good.value, note: made.note ?? null });
    first ??= good.error;
  }
  return fail(first ?? 'nothing comes of it');
}

interface Attempt<W> extends Made<W> {
  readonly note?: string;
}

/** What was made, when it is a cage and as symmetric as it is to be. */
function checked<W>(made: Made<W>, symmetry: Symmetry): Result<Made<W>, string> {
  const { cage } = made;
  if (!cage.vertices.every((p) => p.every((x) => Math.abs(x) <= FARTHEST))) return fail('vertices would stand farther away than 100 m');
  const t = topologyOf(cage);
  if (!t.ok) return fail(`${t.error.what} Nothing is changed.`);
  const partners = partnersOf(cage, symmetry);
  if (!partners.ok) return fail(`That would break the symmetry: ${partners.error.what}. Nothing is changed.`);
  const exact = snapped(cage, partners.value);
  return ok({ cage: exact, picked: made.picked });
}

function attempts<W>(
  cage: CageOf<W>,
  picked: Picked,
  full: Picked,
  edit: Edit,
  t: Topology,
  partners: Partners,
  setting: Setting<W>,
): Result<Attempt<W>[], string> {
  const one = (made: Result<Made<W>, string>): Result<Attempt<W>[], string> => (made.ok ? ok([made.value]) : made);
  const placed = (places: Result<Places, string>, soft?: number): Result<Attempt<W>[], string> => {
    if (!places.ok) return places;
    let to = carried(partners, places.value);
    if (soft !== undefined && soft > 0) to = carried(partners, softly(cage, to, soft));
    return ok([{ cage: { ...cage, vertices: cage.vertices.map((p, v) => to.get(v) ?? p) }, picked }]);
  };
  /** By what was picked alone, or where that is no whole row, together with its partners. */
  const rows = (f: (p: Picked) => Result<Places, string>): Result<Places, string> => {
    const own = f(picked);
    return own.ok ? own : f(full);
  };
  const edges = (): Edge[] => {
    const p = pickedAs(cage, full, 'edges');
    return p.kind === 'edges' ? [...p.edges] : [];
  };
  const faces = (): readonly number[] => (full.kind === 'faces' ? full.faces : []);
  const apart = (): Region[] => regionsApart(cage, picked.kind === 'faces' ? picked.faces : [], faces(), t, partners);
  const insetRegions = (as: Regions | 'each'): (readonly number[])[] => {
    if (as === 'one') return [faces()];
    return as === 'each' ? faces().map((f) => [f]) : apart().map((r) => r.faces);
  };
  const about = (): P3 => middleOf(cage, verticesOf(cage, picked));
  const looped = (from: readonly Edge[], at: Parameters<typeof insertLoops>[3], keep: boolean): Result<Attempt<W>[], string> => {
    const made = insertLoops(cage, from, t, at);
    if (!made.ok) return made;
    if (!keep) return one(made);
    const kept = keepingShape(numbered(cage, setting.weigh), numbered(made.value.cage, setting.weigh), made.value.traces);
    if (!kept.ok) return kept;
    const { places, off } = kept.value;
    const vertices = made.value.cage.vertices.map((p, v) => places.get(v) ?? p);
    return ok([{ cage: { ...made.value.cage, vertices }, picked: made.value.picked, note: `the body stays within ${off.toFixed(3)} mm` }]);
  };
  const pulled = (r: ReturnType<typeof pullBody>): Result<Attempt<W>[], string> => {
    if (!r.ok) return r;
    const made = placed(ok(r.value.places));
    return made.ok ? ok(made.value.map((m) => ({ ...m, note: `the body lies within ${r.value.off.toFixed(3)} mm of it there` }))) : made;
  };
  switch (edit.do) {
    case 'move':
      return placed(ok(move(cage, picked, edit.by)), edit.soft);
    case 'move-normal':
      return placed(ok(moveAlongNormals(cage, picked, t, edit.distance)), edit.soft);
    case 'scale':
      return placed(ok(scale(cage, picked, edit.by, edit.about ?? about())), edit.soft);
    case 'rotate':
      return placed(ok(rotate(cage, picked, edit.axis, edit.angle, edit.about ?? about())), edit.soft);
    case 'place': {
      const [v, more] = verticesOf(cage, picked);
      return more === undefined ? placed(ok(new Map([[v!, edit.at]]))) : fail('one vertex at a time is put in its place');
    }
    case 'flatten':
      return placed(flatten(cage, picked, edit.to));
    case 'straighten':
      return placed(rows((p) => straighten(cage, p)));
    case 'space-evenly':
      return placed(rows((p) => spaceEvenly(cage, p)));
    case 'make-round': {
      if (!edit.onBody) return placed(rows((p) => makeRound(cage, p, edit)));
      const wanted = rows((p) => roundOnBody(numbered(cage, setting.weigh), p, edit));
      return wanted.ok ? placed(onBody(numbered(cage, setting.weigh), carried(partners, wanted.value))) : wanted;
    }
    case 'slide':
      return placed(slide(cage, picked, t, edit.share));
    case 'pull':
      if (!edit.onBody) return placed(pull(cage, picked, edit.nearest));
      return pulled(pullBody(numbered(cage, setting.weigh), picked, edit.nearest));
    case 'extrude':
      if (full.kind !== 'faces') return one(extrudeEdges(cage, edges(), t, awayFromFaces(cage, edges(), t, edit.distance)));
      return edit.as === 'apart'
        ? one(
            extrudeApart(
              cage,
              apart().map((r) => ({ ...r, places: outwards(cage, r.faces, t, edit.distance) })),
            ),
          )
        : one(extrudeFaces(cage, faces(), outwards(cage, faces(), t, edit.distance)));
    case 'extrude-by': {
      if (edit.as === 'apart' && full.kind === 'faces')
        return one(
          extrudeApart(
            cage,
            apart().map((r) => ({ ...r, places: movedAlong(cage, r, edit.by) })),
          ),
        );
      const places = carried(partners, move(cage, picked, edit.by));
      return full.kind === 'faces' ? one(extrudeFaces(cage, faces(), places)) : one(extrudeEdges(cage, edges(), t, places));
    }
    case 'inset':
      return one(inset(cage, insetRegions(edit.as), t, edit.distance));
    case 'insert-loop':
      return picked.kind === 'edges'
        ? looped(directedPartners(cage, picked.edges, partners), { share: edit.share }, edit.keepShape)
        : fail('pick an edge the loop is to cross');
    case 'bevel': {
      if (!(edit.distance > 0)) return fail('supporting loops lie more than nothing away');
      const beside = besideRows(edges(), t);
      return beside.ok ? looped(beside.value, { distance: edit.distance }, false) : beside;
    }
    case 'bridge':
      return one(bridge(cage, picked, full, partners, edit.rings, edit.turn));
    case 'fill':
      return fill(cage, full, partners, edit.way);
    case 'weld': {
      if (edit.within !== null) return one(weld(cage, groupsWithin(cage, verticesOf(cage, full), edit.within)));
      // What was picked becomes one place, and so does each of its images.
      const own = verticesOf(cage, picked);
      return one(weld(cage, merged(partners.maps.map((m) => own.map((v) => m[v]!)).filter((g) => g.every((v) => v >= 0)))));
    }
    case 'split':
      return split(cage, edges(), edit, partners);
    case 'connect':
      return one(connect(cage, verticesOf(cage, full)));
    case 'delete':
      return one(remove(cage, full));
    case 'dissolve':
      return one(dissolve(cage, full, t));
    case 'crease':
      return full.kind === 'vertices' ? one(corner(cage, full.vertices, edit.weight as W)) : one(crease(cage, edges(), edit.weight as W));
    case 'uncrease':
      return full.kind === 'vertices' ? one(corner<W>(cage, full.vertices, null)) : one(crease<W>(cage, edges(), null));
  }
}

/** Where the vertex can't be taken in, because the faces would hang together by it alone, the edge has one beside it, and the row can be welded. */
function split<W>(
  cage: CageOf<W>,
  edges: readonly Edge[],
  { share, onto }: Extract<Edit, { do: 'split' }>,
  partners: Partners,
): Result<Attempt<W>[], string> {
  const plain = splitEdges(cage, edges, share);
  if (!plain.ok || onto === undefined) return plain.ok ? ok([plain.value]) : plain;
  const taken = splitOnto(
    cage,
    edges,
    share,
    [...new Set(partners.maps.map((m) => m[onto]!))].filter((v) => v >= 0),
  );
  return ok(taken.ok ? [taken.value, plain.value] : [plain.value]);
}

/** Groups that share a vertex as one. */
function merged(groups: readonly (readonly number[])[]): number[][] {
  const out: Set<number>[] = [];
  for (const g of groups) {
    const touching = out.filter((o) => g.some((v) => o.has(v)));
    const whole = new Set([...touching.flatMap((o) => [...o]), ...g]);
    for (const o of touching) out.splice(out.indexOf(o), 1);
    out.push(whole);
  }
  return out.map((s) => [...s]);
}
