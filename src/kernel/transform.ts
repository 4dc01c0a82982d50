/** Bodies moved, turned, mirrored or scaled as a whole. */
import { determinant, type Motion, moved } from '../core/curves/motion';
import { insideOut, type TriMesh } from '../core/mesh/mesh';
import { fail, ok, type Result } from '../core/result';
import { areaOf } from './amounts';
import { asBody, asSurface, type KernelBody } from './body';
import { attempt, type Kernel, scoped } from './open';
import { isScanned, scanBody, scanMesh } from './scans';
import { facesOf } from './shapes';
import { straightMoved } from './straight';
import { verifySurface } from './surface';
import { turnedMoved } from './turned-steps';
import { verifySolid } from './verify';

/**
 * A copy of a body, its geometry baked in.
 * @param rename new names for its faces, in the order of the body's own
 * @returns the verified copy; its volume is that of the original times the cube of the scale
 */
export function transformed(kernel: Kernel, body: KernelBody, motion: Motion, rename?: (name: string) => string): Result<KernelBody> {
  const turned = turnedMoved(kernel, body, motion, rename);
  if (turned) return ok(turned);
  const scan = isScanned(body) ? scanMesh(body) : undefined;
  if (scan) return ok(scanBody(kernel, carried(scan, motion), body.faces.map(rename ?? ((n) => n))));
  if (body.facets) return fail('it is a mesh, and nothing exact is left of it to move');
  const [a, b, c] = motion.m;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const trsf = s.keep(new kernel.gp_Trsf());
      const [x, y, z] = motion.t;
      trsf.SetValues(a[0], a[1], a[2], x, b[0], b[1], b[2], y, c[0], c[1], c[2], z);
      const maker = s.keep(new kernel.BRepBuilderAPI_Transform(body.shape, trsf, true, false));
      if (!maker.IsDone()) return undefined;
      const shape = maker.Shape();
      const faces = facesOf(kernel, body.shape).map((f) => maker.ModifiedShape(f));
      return { shape, faces };
    }),
  );
  if (!made.ok) return made;
  if (!made.value) return fail('the kernel could not move it');
  const det = determinant(motion);
  const volume = body.volume * Math.abs(det);
  const { shape, faces } = made.value;
  const area = body.surface ? areaOf(kernel, body.shape) * Math.abs(det) ** (2 / 3) : 0;
  const verified = body.surface
    ? verifySurface(kernel, shape, [area * (1 - 1e-6), area * (1 + 1e-6)])
    : verifySolid(kernel, shape, { simple: true, pieces: body.pieces, volume: [volume * (1 - 1e-6), volume * (1 + 1e-6)] });
  if (!verified.ok) return fail(verified.error.why);
  const names = facesOf(kernel, verified.value.shape).map((f) => {
    const i = faces.findIndex((g) => g.IsSame(f));
    return body.faces[i] ?? '';
  });
  if (names.includes('')) return fail('faces were lost on the way');
  const own = rename ?? ((name: string) => name);
  const straight = body.straight && straightMoved(body.straight, motion, own);
  return ok({ ...(body.surface ? asSurface : asBody)(verified.value, names.map(own)), ...(straight ? { straight } : {}) });
}

/** Facets after a motion; mirrored ones are turned round, so that they face out again. */
function carried({ positions: p, indices, faceOf }: TriMesh, motion: Motion): TriMesh {
  const positions = new Float64Array(p.length);
  for (let i = 0; i < p.length; i += 3) positions.set(moved(motion, [p[i]!, p[i + 1]!, p[i + 2]!]), i);
  const mesh = { positions, indices, faceOf };
  return determinant(motion) < 0 ? insideOut(mesh) : mesh;
}
