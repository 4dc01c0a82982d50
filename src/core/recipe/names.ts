/**
 * Provenance names. A face is named by the step that made it and the profile entity or face it came
 * from; an edge by the two faces it separates. Names are text so that documents can hold them:
 *
 *   belly/c3                      the face turned from curve c3 of the profile, by step `belly`
 *   belly/start, belly/end        the flat ends of a partial turn
 *   soft/round(belly/c3|collar/c1)  the round a fillet put on that edge
 *   hollow/inner(belly/c3)        the inside that lies behind that face
 *   hollow/rim(collar/c4)         what is left of an opened face
 *   …#2                           the second piece of a split face, counted from the bottom up
 *   a&b                           one face that two names fell together in
 *   border|belly/c3               an edge of a surface that has a face on one side only
 */
export type FaceName = string;
export type EdgeName = string;

export type FaceRef = { face: FaceName } | { topOf: string } | { bottomOf: string };
/** One edge, every edge between what two steps made, or an edge at every copy of what it belongs to. */
export type EdgeRef = { edge: EdgeName } | { between: [string, string] } | { alike: EdgeName };

/** The step a face name starts with. */
export const stepOf = (face: FaceName): string => face.slice(0, face.indexOf('/'));

/** The alternatives of a merged name, brackets respected. */
export function alternatives(face: FaceName): string[] {
  const out: string[] = [];
  let depth = 0;
  let from = 0;
  for (let i = 0; i < face.length; i++) {
    const c = face[i];
    if (c === '(') depth++;
    else if (c === ')') depth--;
    else if (c === '&' && depth === 0) {
      out.push(face.slice(from, i));
      from = i + 1;
    }
  }
  out.push(face.slice(from));
  return out;
}

export const mergeNames = (names: readonly FaceName[]): FaceName => [...new Set(names.flatMap(alternatives))].sort().join('&');

/** What stands for the missing face at the border of a surface. */
export const BORDER = 'border';

/** An edge's name from the faces on its two sides, in a fixed order. */
export const edgeName = (a: FaceName, b: FaceName): EdgeName => (a < b ? `${a}|${b}` : `${b}|${a}`);

/** The two faces and the count suffix of an edge name. Undefined for text that is no edge name. */
export function splitEdgeName(edge: EdgeName): { a: FaceName; b: FaceName; suffix: string } | undefined {
  let depth = 0;
  for (let i = 0; i < edge.length; i++) {
    const c = edge[i];
    if (c === '(') depth++;
    else if (c === ')') depth--;
    else if (c === '|' && depth === 0) {
      const rest = edge.slice(i + 1);
      const at = rest.lastIndexOf('~');
      return at > 0 && /^~\d+$/.test(rest.slice(at))
        ? { a: edge.slice(0, i), b: rest.slice(0, at), suffix: rest.slice(at) }
        : { a: edge.slice(0, i), b: rest, suffix: '' };
    }
  }
  return undefined;
}

/** Whether a stored name and a name found on the body mean the same face, that is whether they share an alternative. */
export function sameFace(stored: FaceName, found: FaceName): boolean {
  if (stored === found) return true;
  if (!stored.includes('&') && !found.includes('&')) return false;
  const have = new Set(alternatives(found));
  return alternatives(stored).some((n) => have.has(n));
}

/** What a copy's name begins with, before what it is a copy of: `ring/19(`. */
const COPY = /[^/(|&]+\/(?:copy|\d+)\(/;

/** A face's name with nothing left of which copy or piece it is. */
function ofAnyCopy(face: FaceName): FaceName {
  const plain = face.replace(/(?:#\d+)+/g, '');
  const copy = COPY.exec(plain);
  if (!copy) return plain;
  const from = copy.index + copy[0].length;
  let depth = 1;
  let to = from;
  for (; to < plain.length && depth > 0; to++) {
    if (plain[to] === '(') depth++;
    else if (plain[to] === ')') depth--;
  }
  return ofAnyCopy(plain.slice(0, copy.index) + plain.slice(from, to - 1) + plain.slice(to));
}

/** What an edge has in common with the same edge at every other copy; undefined for text that is no edge name. */
export function atAnyCopy(edge: EdgeName): string | undefined {
  const parts = splitEdgeName(edge);
  if (!parts) return undefined;
  const faces = [parts.a, parts.b].map((f) => mergeNames(alternatives(f).map(ofAnyCopy)));
  return faces.sort().join('|');
}

/** Adds a piece number to names that occur more than once; `order` sorts the pieces of one name. */
export function numberPieces(names: readonly FaceName[], order: (i: number, j: number) => number): FaceName[] {
  const groups = new Map<string, number[]>();
  names.forEach((n, i) => {
    const g = groups.get(n);
    if (g) g.push(i);
    else groups.set(n, [i]);
  });
  const out = [...names];
  for (const [base, members] of groups) {
    if (members.length < 2) continue;
    [...members].sort(order).forEach((index, k) => {
      if (k > 0) out[index] = `${base}#${k + 1}`;
    });
  }
  return out;
}

/** The name of the face a piece is of. */
export const wholeFace = (face: FaceName): FaceName => face.replace(/#\d+$/, '');

/** How near a lost name is to one that exists, 0…1, for offering candidates. */
export function likeness(lost: string, found: string): number {
  if (lost === found) return 1;
  const parts = (s: string): Set<string> => new Set(s.split(/[/|()&#~]/).filter(Boolean));
  const a = parts(lost);
  const b = parts(found);
  let shared = 0;
  for (const p of a) if (b.has(p)) shared++;
  const same = (2 * shared) / (a.size + b.size);
  return stepOf(lost) === stepOf(found) ? 0.2 + 0.8 * same : 0.8 * same;
}
