/** From stored references to faces and edges of a body as it is now. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import {
  alternatives,
  atAnyCopy,
  BORDER,
  type EdgeRef,
  type FaceRef,
  likeness,
  sameFace,
  splitEdgeName,
  stepOf,
} from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody, LostPick } from './body';
import { type NamedEdge, namedEdges } from './names';
import { type Kernel, scoped } from './open';
import { facesOf, roughBounds } from './shapes';

/** A reference that found nothing, with the nearest names that exist. */
export interface Lost {
  readonly ref: FaceRef | EdgeRef;
  readonly candidates: readonly string[];
}

/** The same for a step's failure, so that the stage can show what might be meant; nothing for a rule that names no face. */
export function lostOn(body: string, { ref, candidates }: Lost): { lost?: LostPick } {
  if ('face' in ref) return { lost: { body, what: 'face', name: ref.face, candidates } };
  return 'edge' in ref ? { lost: { body, what: 'edge', name: ref.edge, candidates } } : {};
}

export interface FoundFace {
  readonly face: TopoDS_Face;
  readonly index: number;
}

const comesFrom = (face: string, step: string): boolean => alternatives(face).some((n) => stepOf(n) === step);

const nearest = (lost: string, names: readonly string[]): string[] =>
  [...names]
    .map((n) => ({ n, score: likeness(lost, n) }))
    .filter((c) => c.score > 0.25)
    .sort((a, b) => b.score - a.score)
    .slice(0, 3)
    .map((c) => c.n);

export function selectFaces(kernel: Kernel, body: KernelBody, refs: readonly FaceRef[]): Result<FoundFace[], Lost> {
  const faces = facesOf(kernel, body.shape);
  const found = new Map<number, FoundFace>();
  for (const ref of refs) {
    const hits = resolveFace(kernel, faces, body, ref);
    if (hits.length === 0) return fail({ ref, candidates: nearest('face' in ref ? ref.face : '', body.faces) });
    for (const index of hits) found.set(index, { face: faces[index]!, index });
  }
  return ok([...found.values()]);
}

function resolveFace(kernel: Kernel, faces: readonly TopoDS_Face[], body: KernelBody, ref: FaceRef): number[] {
  if ('face' in ref) return body.faces.flatMap((n, i) => (sameFace(ref.face, n) ? [i] : []));
  const step = 'topOf' in ref ? ref.topOf : ref.bottomOf;
  const up = 'topOf' in ref;
  let best = -1;
  let height = up ? -Infinity : Infinity;
  // Where a cut took all that is flat of a step whose other faces are there, the rule means the body's own end.
  const mine = body.faces.map((name) => comesFrom(name, step));
  const parted = mine.includes(true) && !faces.some((f, i) => mine[i] && isLevel(kernel, f));
  faces.forEach((f, i) => {
    if (!parted && !mine[i]) return;
    if (!isLevel(kernel, f)) return;
    const b = roughBounds(kernel, f);
    if (up ? b.max[2] > height : b.min[2] < height) {
      height = up ? b.max[2] : b.min[2];
      best = i;
    }
  });
  return best < 0 ? [] : [best];
}

/** Whether a face is flat and level. */
function isLevel(kernel: Kernel, face: TopoDS_Face): boolean {
  return scoped((s) => {
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    if (surface.GetType() !== 'GeomAbs_Plane') return false;
    // By the plane itself: bounds reach beyond borders that are splines.
    return Math.abs(s.keep(s.keep(s.keep(surface.Plane()).Axis()).Direction()).Z()) > LEVEL;
  });
}

/** Cosine of the angle between the normal of a level plane and upright at least. */
const LEVEL = 1 - 1e-12;

export function selectEdges(kernel: Kernel, body: KernelBody, refs: readonly EdgeRef[]): Result<NamedEdge[], Lost> {
  const edges = namedEdges(kernel, body).filter((e) => e.name !== '');
  const found = new Map<string, NamedEdge>();
  for (const ref of refs) {
    const hits = edges.filter((e) => matchesEdge(body, e, ref));
    if (hits.length === 0)
      return fail({
        ref,
        candidates: nearest(
          'edge' in ref ? ref.edge : 'alike' in ref ? ref.alike : '',
          edges.map((e) => e.name),
        ),
      });
    for (const e of hits) found.set(e.name, e);
  }
  return ok([...found.values()]);
}

function matchesEdge(body: KernelBody, edge: NamedEdge, ref: EdgeRef): boolean {
  const [a, b] = [body.faces[edge.faces[0]!]!, body.faces[edge.faces[1] ?? -1] ?? BORDER];
  if ('between' in ref) {
    const [s, t] = ref.between;
    return (comesFrom(a, s) && comesFrom(b, t)) || (comesFrom(a, t) && comesFrom(b, s));
  }
  if ('alike' in ref) return atAnyCopy(ref.alike) === atAnyCopy(edge.name);
  if (ref.edge === edge.name) return true;
  const want = splitEdgeName(ref.edge);
  const have = splitEdgeName(edge.name);
  if (!want || !have || want.suffix !== have.suffix) return false;
  return (sameFace(want.a, a) && sameFace(want.b, b)) || (sameFace(want.a, b) && sameFace(want.b, a));
}
