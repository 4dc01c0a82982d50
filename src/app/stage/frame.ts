/** Edges and faces picked many at once: all within a frame on the screen, or all that go on from one. */
import * as THREE from 'three';
import type { ScreenFrame } from '../state/asked';
import { faceUnder, onScreen, type Pickable, type PickableLines, type Pointer } from './pick';

interface Found<B> {
  readonly body: B;
  readonly index: number;
}

/** What lies in front of a place by less than this share of the way hides nothing of it. */
const BEFORE = 2e-3;
/** Places of an edge or a face at which it is looked for behind others. */
const LOOKED = 5;

/**
 * Edges or faces within a frame that are seen at some place of theirs.
 * @param how wholly within it, or with any part
 * @param visible what is not cut away; left out where nothing is
 */
export function withinFrame<B extends Pickable>(
  bodies: readonly B[],
  camera: THREE.Camera,
  screen: Pick<Pointer, 'width' | 'height'>,
  frame: ScreenFrame,
  what: 'edges' | 'faces',
  how: 'wholly' | 'partly',
  visible?: (p: THREE.Vector3) => boolean,
): Found<B>[] {
  const [left, right] = [Math.min(frame.x0, frame.x1), Math.max(frame.x0, frame.x1)];
  const [top, bottom] = [Math.min(frame.y0, frame.y1), Math.max(frame.y0, frame.y1)];
  const on = (p: THREE.Vector3): { x: number; y: number } => onScreen(camera, p, screen);
  const inside = ({ x, y }: { x: number; y: number }): boolean => x >= left && x <= right && y >= top && y <= bottom;
  const seen = (p: THREE.Vector3, body: B, index: number): boolean => {
    if (visible && !visible(p)) return false;
    const hit = faceUnder(bodies, camera, { ...on(p), ...screen }, visible);
    if (what === 'faces') return hit?.body === body && hit.face === index;
    return hit === null || camera.position.distanceTo(p) <= camera.position.distanceTo(hit.at) * (1 + BEFORE);
  };
  const out: Found<B>[] = [];
  for (const body of bodies)
    for (const [index, places] of placesOf(body, what)) {
      const within = places.filter((p) => inside(on(p)));
      if (within.length === 0 || (how === 'wholly' && within.length < places.length)) continue;
      const stride = Math.max(1, Math.floor(within.length / LOOKED));
      if (within.some((p, i) => (i + 1) % stride === 0 && seen(p, body, index))) out.push({ body, index });
    }
  return out;
}

/** Places of every edge, between its ends, or of every face, at the middles of its facets. */
function placesOf(body: Pickable, what: 'edges' | 'faces'): Map<number, THREE.Vector3[]> {
  const out = new Map<number, THREE.Vector3[]>();
  const add = (i: number, p: THREE.Vector3): void => {
    const list = out.get(i);
    if (list) list.push(p);
    else out.set(i, [p]);
  };
  if (what === 'edges') {
    for (let i = 0; i < body.edgeOf.length; i++) {
      const edge = body.edgeOf[i]!;
      if (body.edgeNames[edge] === '') continue;
      const [a, b] = ends(body, i);
      // The middle of a straight edge is looked for too.
      for (const t of [0.02, 0.25, 0.5, 0.75, 0.98]) add(edge, a.clone().lerp(b, t));
    }
    return out;
  }
  const corner = (t: number, k: number): THREE.Vector3 => new THREE.Vector3().fromArray(body.positions, 3 * body.indices[3 * t + k]!);
  for (let t = 0; t < body.faceOf.length; t++) {
    const c = [0, 1, 2].map((k) => corner(t, k)) as [THREE.Vector3, THREE.Vector3, THREE.Vector3];
    const middle = c[0].clone().add(c[1]).add(c[2]).divideScalar(3);
    // Nearly its corners: those themselves lie on edges.
    for (const k of c) add(body.faceOf[t]!, k.lerp(middle, 0.02));
    add(body.faceOf[t]!, middle);
  }
  return out;
}

const ends = (body: PickableLines, i: number): [THREE.Vector3, THREE.Vector3] => [
  new THREE.Vector3().fromArray(body.segments, 6 * i),
  new THREE.Vector3().fromArray(body.segments, 6 * i + 3),
];

/** Edges that turn by less where they meet go on, rad: a drawn curve turns a little from piece to piece. */
const GOES_ON = (8 * Math.PI) / 180;
/** Ends that lie nearer belong together, mm. */
const TOUCH = 1e-3;

/** An edge with all that go on from it without a corner; where none does, with the border of the face given. */
export function chainOf(body: Pickable & { readonly faceNames: readonly string[] }, edge: number, face: number): number[] {
  const chain = goingOn(body, edge);
  if (chain.length > 1 || face < 0) return chain;
  const name = body.faceNames[face]!;
  const border = body.edgeNames.flatMap((n, i) => (n !== '' && besides(n, name) ? [i] : []));
  return border.includes(edge) ? border : chain;
}

/** Whether an edge's name is that of one beside a face. */
const besides = (edge: string, face: string): boolean =>
  edge.startsWith(`${face}|`) || edge.includes(`|${face}~`) || edge.endsWith(`|${face}`);

interface End {
  readonly edge: number;
  readonly at: THREE.Vector3;
  /** Out of the edge. */
  readonly way: THREE.Vector3;
}

/** A line with all that go on from it without a corner, its own number first. */
export function goingOn(lines: PickableLines, edge: number, turn = GOES_ON, touch = TOUCH): number[] {
  const all = endsOfEdges(lines);
  const chain = new Set([edge]);
  for (const e of chain)
    for (const a of all.filter((x) => x.edge === e))
      for (const b of all)
        if (!chain.has(b.edge) && a.at.distanceTo(b.at) < touch && a.way.angleTo(b.way.clone().negate()) < turn) chain.add(b.edge);
  return [...chain];
}

function endsOfEdges(body: PickableLines): End[] {
  const pieces = new Map<number, number[]>();
  for (let i = 0; i < body.edgeOf.length; i++) {
    const list = pieces.get(body.edgeOf[i]!);
    if (list) list.push(i);
    else pieces.set(body.edgeOf[i]!, [i]);
  }
  return [...pieces].flatMap(([edge, list]): End[] => {
    if (body.edgeNames[edge] === '') return [];
    const [first, last] = [ends(body, list[0]!), ends(body, list[list.length - 1]!)];
    return [
      { edge, at: first[0], way: first[0].clone().sub(first[1]).normalize() },
      { edge, at: last[1], way: last[1].clone().sub(last[0]).normalize() },
    ];
  });
}
