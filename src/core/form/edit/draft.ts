/** A cage while it is changed: vertices are only added, faces may go, creases follow their edges. `finish` leaves out what is unused. */
import type { CageOf, P3 } from '../cage';
import { edgeKey, edgeOfKey } from './topology';

export class Draft<W> {
  readonly vertices: P3[];
  /** Null for a face that is gone. */
  readonly faces: (number[] | null)[];
  readonly crease: Map<number, W>;
  readonly corner: Map<number, W>;

  constructor(cage: CageOf<W>) {
    this.vertices = [...cage.vertices];
    this.faces = cage.faces.map((f) => [...f]);
    this.crease = new Map(cage.creases.map(([a, b, w]) => [edgeKey(a, b), w]));
    this.corner = new Map(cage.corners);
  }

  add(place: P3): number {
    return this.vertices.push(place) - 1;
  }

  /** A vertex on an edge, put into the faces beside it; both halves keep the edge's crease. @param share of the way from a to b */
  between(a: number, b: number, share: number): number {
    const [p, q] = [this.vertices[a]!, this.vertices[b]!];
    const v = this.add([p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1]), p[2] + share * (q[2] - p[2])]);
    const w = this.crease.get(edgeKey(a, b));
    if (w !== undefined) {
      this.crease.set(edgeKey(a, v), w);
      this.crease.set(edgeKey(v, b), w);
      this.crease.delete(edgeKey(a, b));
    }
    for (const f of this.faces) {
      if (!f) continue;
      const i = f.indexOf(a);
      if (i < 0) continue;
      if (f[(i + 1) % f.length] === b) f.splice(i + 1, 0, v);
      else if (f[(i + f.length - 1) % f.length] === b) f.splice(i, 0, v);
    }
    return v;
  }

  /** The cage, with the new number of every vertex and face, −1 where it is gone. */
  finish(): { cage: CageOf<W>; vertexOf: Int32Array; faceOf: Int32Array } {
    const vertexOf = new Int32Array(this.vertices.length).fill(-1);
    const faceOf = new Int32Array(this.faces.length).fill(-1);
    const faces = this.faces.filter((f, i): f is number[] => {
      if (!f) return false;
      faceOf[i] = 1;
      for (const v of f) vertexOf[v] = 1;
      return true;
    });
    const number = (of: Int32Array): void => {
      let n = 0;
      for (let i = 0; i < of.length; i++) if (of[i]! >= 0) of[i] = n++;
    };
    number(vertexOf);
    number(faceOf);
    const edges = new Set(faces.flatMap((f) => f.map((v, i) => edgeKey(v, f[(i + 1) % f.length]!))));
    return {
      cage: {
        vertices: this.vertices.filter((_, v) => vertexOf[v]! >= 0),
        faces: faces.map((f) => f.map((v) => vertexOf[v]!)),
        creases: [...this.crease]
          .filter(([key]) => edges.has(key))
          .map(([key, w]) => {
            const [a, b] = edgeOfKey(key);
            return [vertexOf[a]!, vertexOf[b]!, w] as const;
          }),
        corners: [...this.corner].filter(([v]) => vertexOf[v]! >= 0).map(([v, w]) => [vertexOf[v]!, w] as const),
      },
      vertexOf,
      faceOf,
    };
  }
}
