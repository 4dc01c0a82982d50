/** A form's source in the document to its cage, expressions worked out. */

import type { Kind } from '../dimensions/expression';
import { evaluateAs, type Scope } from '../dimensions/expression';
import type { FormSource } from '../recipe/steps';
import { fail, ok, type Result } from '../result';
import { type Cage, netOf } from './cage';
import { type RingForm, type RingRow, ringCage, ringCageOnLimit, ringProblem } from './rings';

const read = (text: string, kind: Kind, what: string, scope: Scope): Result<number, string> => {
  const r = evaluateAs(text, kind, scope);
  return r.ok ? ok(r.value) : fail(`${what}: ${r.error}`);
};

/** The table with its numbers, mm and rad. */
export function ringFormOf(source: Extract<FormSource, { by: 'rings' }>, scope: Scope): Result<RingForm, string> {
  const sides = read(source.sides, 'number', 'the number of sides', scope);
  if (!sides.ok) return sides;
  const ridge = read(source.ridge, 'length', 'the ridges', scope);
  if (!ridge.ok) return ridge;
  const rows: RingRow[] = [];
  for (const [i, r] of source.rows.entries()) {
    const height = read(r.height, 'length', `height of ring ${i + 1}`, scope);
    if (!height.ok) return height;
    const radius = read(r.radius, 'length', `radius of ring ${i + 1}`, scope);
    if (!radius.ok) return radius;
    const twist = read(r.twist, 'angle', `twist of ring ${i + 1}`, scope);
    if (!twist.ok) return twist;
    const crease = read(r.crease, 'number', `crease of ring ${i + 1}`, scope);
    if (!crease.ok) return crease;
    rows.push({ height: height.value, radius: radius.value, twist: twist.value, crease: crease.value });
  }
  const form = { sides: sides.value, ridge: ridge.value, rows, bottom: source.bottom, top: source.top };
  const problem = ringProblem(form);
  return problem ? fail(problem) : ok(form);
}

/** The cage a source stands for; fails in words. */
export function cageOf(source: FormSource, scope: Scope): Result<Cage, string> {
  if (source.by === 'rings') {
    const form = ringFormOf(source, scope);
    if (!form.ok) return form;
    return source.on === 'body' ? ringCageOnLimit(form.value) : ok(ringCage(form.value));
  }
  const creases: [number, number, number][] = [];
  for (const [a, b, w] of source.creases) {
    const weight = read(w, 'number', 'the weight of a crease', scope);
    if (!weight.ok) return weight;
    creases.push([a, b, weight.value]);
  }
  const corners: [number, number][] = [];
  for (const [v, w] of source.corners) {
    const weight = read(w, 'number', 'the weight of a corner', scope);
    if (!weight.ok) return weight;
    corners.push([v, weight.value]);
  }
  const cage: Cage = { vertices: source.vertices, faces: source.faces, creases, corners };
  const net = netOf(cage);
  return net.ok ? ok(cage) : fail(net.error.what);
}
