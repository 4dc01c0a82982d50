/** A form's source in the document to its cage, expressions worked out. */

import type { Kind } from '../dimensions/expression';
import { evaluateAs, type Scope } from '../dimensions/expression';

import { fail, ok, type Result } from '../result';
import { type Cage, type CageOf, netOf } from './cage';
import { type Symmetry, withFold } from './edit/symmetry';
import { type RingForm, type RingRow, ringCage, ringCageOnLimit, ringProblem } from './rings';
import type { FormSource } from './source';

export type CageSource = Extract<FormSource, { by: 'cage' }>;

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
  const repeated = repeatedCage(source, scope);
  if (!repeated.ok) return repeated;
  const creases: [number, number, number][] = [];
  for (const [a, b, w] of repeated.value.cage.creases) {
    const weight = read(w, 'number', 'the weight of a crease', scope);
    if (!weight.ok) return weight;
    creases.push([a, b, weight.value]);
  }
  const corners: [number, number][] = [];
  for (const [v, w] of repeated.value.cage.corners) {
    const weight = read(w, 'number', 'the weight of a corner', scope);
    if (!weight.ok) return weight;
    corners.push([v, weight.value]);
  }
  const cage: Cage = { ...repeated.value.cage, creases, corners };
  const net = netOf(cage);
  return net.ok ? ok(cage) : fail(net.error.what);
}

/** The cage of a document as often round its axis as it is to be, its weights still expressions, and its symmetry. */
export function repeatedCage(source: CageSource, scope: Scope): Result<{ cage: CageOf<string>; symmetry: Symmetry }, string> {
  const fold = read(source.fold, 'number', 'how often it repeats round the axis', scope);
  if (!fold.ok) return fold;
  const { vertices, faces, creases, corners } = source;
  // Of what repeats only in part no sector can be told: how often it does is looked at anew.
  const cage = withFold({ vertices, faces, creases, corners }, source.partly ? fold.value : source.folded, fold.value);
  const partly = source.partly ? { partly: true as const } : {};
  return cage.ok ? ok({ cage: cage.value, symmetry: { mirror: source.mirror, fold: fold.value, ...partly } }) : cage;
}

/** Reads a weight that is known to be one; 0 for what is none. */
export const weigher =
  (scope: Scope) =>
  (text: string): number => {
    const r = evaluateAs(text, 'number', scope);
    return r.ok ? r.value : 0;
  };

/** The fields in which a cage stands in the document; weights become expressions. */
export const cageFields = (cage: CageOf<unknown>) => ({
  vertices: cage.vertices.map(([x, y, z]): [number, number, number] => [x, y, z]),
  faces: cage.faces.map((f) => [...f]),
  creases: cage.creases.map(([a, b, w]): [number, number, string] => [a, b, `${w}`]),
  corners: cage.corners.map(([v, w]): [number, string] => [v, `${w}`]),
});

/** A cage as the source of a form, without a symmetry that is kept. */
export const sourceOf = (cage: CageOf<unknown>): CageSource => ({ by: 'cage', ...cageFields(cage), mirror: [], fold: '1', folded: 1 });
