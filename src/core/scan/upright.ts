/** Puts a scan so that its middle plane is the side plane. */
import { cross, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { axesOf, momentsOf } from '../linear';
import type { TriMesh } from '../mesh/mesh';
import { evenPlaces, type MiddlePlane } from './middle';

/** Where a scan goes: its new directions right, back and up by the old ones, and the place that becomes the origin. */
export interface Placing {
  readonly x: Vec3;
  readonly y: Vec3;
  readonly z: Vec3;
  readonly origin: Vec3;
}

const PLACES = 4000;

/**
 * @param stands lying: what it is thinnest along is upright; long: what it is longest along; kept: the way that was up stays as far up as it can
 * @param turn within its middle plane afterwards, rad
 */
export function placingOf(mesh: TriMesh, plane: MiddlePlane, stands: 'lying' | 'long' | 'kept', turn: number): Placing {
  const { normal } = plane;
  const places = evenPlaces(mesh, PLACES);
  const mean = triple((k) => places.reduce((s, p) => s + p[k]!, 0) / places.length);
  // Of the ways across the middle plane.
  const across = (v: Vec3): Vec3 => triple((k) => v[k] - dot(v, normal) * normal[k]);
  // The least of the three is along the normal, where nothing is left.
  const [, thin, long] = axesOf(momentsOf(places.map((p) => across(minus(p, mean))))).map((a) => a.axis) as [Vec3, Vec3, Vec3];
  const wanted: Vec3 = stands === 'kept' ? [0, 0, 1] : stands === 'long' ? long : thin;
  let up = unit(across(wanted)) ?? thin;
  if (up[2] < 0) up = triple((k) => -up[k]);
  const side = cross(up, normal);
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const z = triple((k) => c * up[k] + s * side[k]);
  const y = cross(z, normal);
  // On the middle plane, below its own middle.
  const on = triple((k) => mean[k] - dot(minus(mean, plane.at), normal) * normal[k]);
  let low = Number.POSITIVE_INFINITY;
  for (let v = 0; v < mesh.positions.length; v += 3)
    low = Math.min(
      low,
      dot(
        minus(
          triple((k) => mesh.positions[v + k]!),
          on,
        ),
        z,
      ),
    );
  return { x: normal, y, z, origin: triple((k) => on[k] + low * z[k]) };
}

export function placed(mesh: TriMesh, { x, y, z, origin }: Placing): TriMesh {
  const positions = new Float64Array(mesh.positions.length);
  for (let v = 0; v < positions.length; v += 3) {
    const d = minus(
      triple((k) => mesh.positions[v + k]!),
      origin,
    );
    positions[v] = dot(d, x);
    positions[v + 1] = dot(d, y);
    positions[v + 2] = dot(d, z);
  }
  return { ...mesh, positions };
}
