/** Measures how faces meet along their edges, on the exact surfaces: gap, angle, and curvature across the edge. */
import { cross, distance, dot, unit, type Vec3 } from '../../core/geometry/vectors';
import type { JoinReading } from '../../core/inspect/joins';
import type { KernelBody } from '../body';
import { namedEdges } from '../names';
import { type Kernel, scoped } from '../open';
import { facesOf, lengthOf, surfaceReader } from '../shapes';

/** Places looked at along an edge. */
const SAMPLES = 25;

/** @param tick called between edges; false gives up and the result is null */
export async function measureJoins(
  kernel: Kernel,
  body: KernelBody,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<JoinReading[] | null> {
  const faces = facesOf(kernel, body.shape);
  const edges = namedEdges(kernel, body).filter((e) => e.name !== '' && e.faces.length === 2 && e.faces[0] !== e.faces[1]);
  const out: JoinReading[] = [];
  for (const [i, e] of edges.entries()) {
    if (!(await tick(i / edges.length))) return null;
    const [f, g] = e.faces.map((k) => faces[k]!) as [(typeof faces)[0], (typeof faces)[0]];
    const reading = scoped((s): JoinReading => {
      const curve = s.keep(new kernel.BRepAdaptor_Curve(e.edge));
      const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
      const sides = [f, g].map((face) => ({
        flat: s.keep(new kernel.BRepAdaptor_Curve2d(e.edge, face)),
        reader: surfaceReader(kernel, face),
      }));
      const p = s.keep(new kernel.gp_Pnt());
      const d = s.keep(new kernel.gp_Vec());
      const along: { angle: number; bend: number }[] = [];
      const place = (t: number): Vec3 => {
        curve.D0(t, p);
        return [p.X(), p.Y(), p.Z()];
      };
      const places = Array.from({ length: SAMPLES + 1 }, (_, k) => place(t0 + ((t1 - t0) * k) / SAMPLES));
      let [gap, angle, bend, mismatch] = [0, 0, 0, 0];
      let [at, worst]: [Vec3, number] = [[0, 0, 0], -1];
      for (let k = 0; k < SAMPLES; k++) {
        // Not at the ends: three faces meet there.
        const t = t0 + ((t1 - t0) * (k + 0.5)) / SAMPLES;
        curve.D1(t, p, d);
        const tangent = unit([d.X(), d.Y(), d.Z()]);
        const read = sides.map(({ flat, reader }) => {
          const uv = s.keep(flat.Value(t));
          return reader.at(uv.X(), uv.Y());
        });
        const [a, b] = read;
        if (!tangent || !a || !b) continue;
        const turn = Math.atan2(Math.hypot(...cross(a.normal, b.normal)), dot(a.normal, b.normal));
        const [ka, kb] = [a, b].map((q) => q.bend(cross(q.normal, tangent))) as [number, number];
        const off = Math.abs(ka - kb);
        gap = Math.max(gap, distance(a.point, b.point));
        angle = Math.max(angle, turn);
        bend = Math.max(bend, off);
        mismatch = Math.max(mismatch, Math.abs(ka) + Math.abs(kb) > 1e-9 ? off / (Math.abs(ka) + Math.abs(kb)) : 0);
        along.push({ angle: turn, bend: off });
        // An angle outweighs any curvature.
        const weight = turn > 1e-4 ? 1e6 * turn : off;
        if (weight > worst) [at, worst] = [[p.X(), p.Y(), p.Z()], weight];
      }
      for (const { reader } of sides) reader.dispose();
      return { edge: e.name, length: lengthOf(kernel, e.edge), gap, angle, bend, mismatch, at, places, along };
    });
    out.push(reading);
  }
  return out;
}
