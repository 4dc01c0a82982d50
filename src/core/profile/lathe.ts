/** The instant preview: a half outline turned into triangles without the kernel. */
import { type Outline, outlinePolyline } from './outline';

export interface PreviewMesh {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
}

/**
 * Turns the outline about the z axis.
 * @param segments facets round a full turn
 * @param angle radians turned; ends of a partial turn stay open in the preview
 */
export function latheMesh(outline: Outline, segments = 96, angle = 2 * Math.PI, tolerance = 0.08): PreviewMesh {
  const line = outlinePolyline(outline, tolerance);
  const full = angle > 2 * Math.PI - 1e-9;
  const steps = Math.max(2, Math.ceil((segments * angle) / (2 * Math.PI)));
  const cols = steps + 1;
  const sections = line.length - 1;
  const positions = new Float32Array(sections * 2 * cols * 3);
  const normals = new Float32Array(sections * 2 * cols * 3);
  const indices = new Uint32Array(sections * steps * 6);
  const cos = new Float64Array(cols);
  const sin = new Float64Array(cols);
  for (let j = 0; j < cols; j++) {
    const w = full && j === steps ? 0 : (angle * j) / steps;
    cos[j] = Math.cos(w);
    sin[j] = Math.sin(w);
  }
  let area = 0;
  for (let i = 0; i < sections; i++) area += (line[i]!.point.x + line[i + 1]!.point.x) * (line[i + 1]!.point.y - line[i]!.point.y);
  const outward = area >= 0 ? 1 : -1;
  // Segment normals, averaged over neighbours on the same curve so that curves shade smooth and corners crisp.
  const nx = new Float64Array(sections);
  const ny = new Float64Array(sections);
  for (let i = 0; i < sections; i++) {
    const dx = line[i + 1]!.point.x - line[i]!.point.x;
    const dy = line[i + 1]!.point.y - line[i]!.point.y;
    const l = Math.hypot(dx, dy) || 1;
    nx[i] = (outward * dy) / l;
    ny[i] = (-outward * dx) / l;
  }
  let v = 0;
  let k = 0;
  for (let i = 0; i < sections; i++) {
    const curve = line[i + 1]!.curve;
    for (const end of [0, 1]) {
      const neighbour = end === 0 ? i - 1 : i + 1;
      const joined = neighbour >= 0 && neighbour < sections && line[neighbour + 1]!.curve === curve;
      const ax = joined ? nx[i]! + nx[neighbour]! : nx[i]!;
      const ay = joined ? ny[i]! + ny[neighbour]! : ny[i]!;
      const l = Math.hypot(ax, ay) || 1;
      const p = line[i + end]!.point;
      for (let j = 0; j < cols; j++) {
        positions[v] = p.x * cos[j]!;
        positions[v + 1] = p.x * sin[j]!;
        positions[v + 2] = p.y;
        normals[v] = (ax / l) * cos[j]!;
        normals[v + 1] = (ax / l) * sin[j]!;
        normals[v + 2] = ay / l;
        v += 3;
      }
    }
    const a = i * 2 * cols;
    for (let j = 0; j < steps; j++) {
      const p = a + j;
      const q = p + cols;
      if (outward > 0) {
        indices[k] = p;
        indices[k + 1] = p + 1;
        indices[k + 2] = q + 1;
        indices[k + 3] = p;
        indices[k + 4] = q + 1;
        indices[k + 5] = q;
      } else {
        indices[k] = p;
        indices[k + 1] = q + 1;
        indices[k + 2] = p + 1;
        indices[k + 3] = p;
        indices[k + 4] = q;
        indices[k + 5] = q + 1;
      }
      k += 6;
    }
  }
  return { positions, normals, indices };
}
