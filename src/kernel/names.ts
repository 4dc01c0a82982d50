/** Carries provenance names through the kernel's history of an operation. */
import type { NCollection_List_TopoDS_Shape, TopoDS_Face } from 'replicad-opencascadejs';
import { BORDER, type EdgeName, edgeName, type FaceName, mergeNames, numberPieces } from '../core/recipe/names';
import type { KernelBody } from './body';
import { type Kernel, type Shape, scoped } from './open';
import { centreOf, type EdgeInfo, edgesWithFaces, facesOf, hashOf } from './shapes';

/** What booleans, fillets and shells can tell about where a shape went. */
export interface History {
  Modified(s: Shape): NCollection_List_TopoDS_Shape;
  Generated(s: Shape): NCollection_List_TopoDS_Shape;
  IsDeleted(s: Shape): boolean;
}

/** The shapes of a kernel list, read off a copy: the builder's own list stays whole. */
export function listOf(kernel: Kernel, list: NCollection_List_TopoDS_Shape): Shape[] {
  const copy = new kernel.NCollection_List_TopoDS_Shape(list);
  const out: Shape[] = [];
  while (copy.Size() > 0) {
    out.push(copy.First());
    copy.RemoveFirst();
  }
  copy.delete();
  return out;
}

export interface Claim {
  readonly shape: Shape;
  readonly name: FaceName;
}

/** What became of named faces: their modified pieces, or themselves where the operation left them alone. */
export function inherit(kernel: Kernel, history: History, faces: readonly Shape[], names: readonly FaceName[]): Claim[] {
  const out: Claim[] = [];
  faces.forEach((face, i) => {
    const modified = listOf(kernel, history.Modified(face));
    if (modified.length > 0) for (const m of modified) out.push({ shape: m, name: names[i]! });
    else if (!history.IsDeleted(face)) out.push({ shape: face, name: names[i]! });
  });
  return out;
}

/**
 * A name for every face of a result. Faces claimed twice get a merged name, pieces of one face a number
 * from the bottom up; a face nobody claims is named after the step.
 */
export function nameFaces(kernel: Kernel, result: Shape, claims: readonly Claim[], step: string): FaceName[] {
  const faces = facesOf(kernel, result);
  const byHash = new Map<number, Claim[]>();
  for (const c of claims) {
    const h = hashOf(kernel, c.shape);
    const list = byHash.get(h);
    if (list) list.push(c);
    else byHash.set(h, [c]);
  }
  const names = faces.map((face) => {
    const mine = (byHash.get(hashOf(kernel, face)) ?? []).filter((c) => c.shape.IsSame(face)).map((c) => c.name);
    return mine.length > 0 ? mergeNames(mine) : `${step}/face`;
  });
  // Most names are nobody else's, and a middle takes long to find on a face of many poles.
  const places: Place[] = [];
  const at = (i: number): Place => {
    places[i] ??= facePlace(kernel, faces[i]!);
    return places[i]!;
  };
  return numberPieces(names, (i, j) => comparePlaces(at(i), at(j)));
}

type Place = readonly [number, number, number];

/** Height, then angle about the axis, then radius: an order that small changes of size leave alone. */
function comparePlaces(a: Place, b: Place): number {
  for (let k = 0; k < 3; k++) if (Math.abs(a[k]! - b[k]!) > 1e-6) return a[k]! - b[k]!;
  return 0;
}

const asPlace = (x: number, y: number, z: number): Place => {
  const r = Math.hypot(x, y);
  return [z, r < 1e-6 ? 0 : (Math.atan2(y, x) + 2 * Math.PI + 1e-9) % (2 * Math.PI), r];
};

const facePlace = (kernel: Kernel, face: TopoDS_Face): Place => asPlace(...centreOf(kernel, face));

export interface NamedEdge extends EdgeInfo {
  /** Empty for a seam, which no selection may hold. */
  readonly name: EdgeName;
}

/** Every edge of a body with its name, in the order of `edgesWithFaces`. */
export function namedEdges(kernel: Kernel, body: KernelBody): NamedEdge[] {
  const infos = edgesWithFaces(kernel, facesOf(kernel, body.shape));
  const base = infos.map(({ faces: [a, b] }) => (a === b ? '' : edgeName(body.faces[a!]!, b === undefined ? BORDER : body.faces[b]!)));
  const groups = new Map<string, number[]>();
  base.forEach((n, i) => {
    if (n) groups.set(n, [...(groups.get(n) ?? []), i]);
  });
  const names = [...base];
  for (const [n, members] of groups) {
    if (members.length < 2) continue;
    const places = new Map(members.map((i) => [i, edgePlace(kernel, infos[i]!.edge)]));
    [...members]
      .sort((i, j) => comparePlaces(places.get(i)!, places.get(j)!))
      .forEach((i, k) => {
        names[i] = `${n}~${k + 1}`;
      });
  }
  return infos.map((info, i) => ({ ...info, name: names[i]! }));
}

function edgePlace(kernel: Kernel, edge: Shape): Place {
  return scoped((s) => {
    const props = s.keep(new kernel.GProp_GProps());
    kernel.BRepGProp.LinearProperties(edge, props, false, false);
    const c = s.keep(props.CentreOfMass());
    return asPlace(c.X(), c.Y(), c.Z());
  });
}
