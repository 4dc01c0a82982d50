/** Edges of meshes by their ends, for meshes of millions: a table of numbers where a map of keys takes seconds. */

/** A number for each edge from one vertex to another, by direction. */
export class DirectedEdges {
  private readonly from: Int32Array;
  private readonly to: Int32Array;
  private readonly held: Int32Array;
  private readonly mask: number;

  /** @param most edges that are put at most */
  constructor(most: number) {
    let slots = 4;
    while (slots < 2 * most) slots *= 2;
    this.mask = slots - 1;
    this.from = new Int32Array(slots).fill(-1);
    this.to = new Int32Array(slots);
    this.held = new Int32Array(slots);
  }

  private slot(a: number, b: number): number {
    let h = Math.imul(a, 73856093) ^ Math.imul(b, 19349663);
    h = (h ^ (h >>> 15)) & this.mask;
    while (this.from[h]! >= 0 && (this.from[h] !== a || this.to[h] !== b)) h = (h + 1) & this.mask;
    return h;
  }

  has(a: number, b: number): boolean {
    return this.from[this.slot(a, b)]! >= 0;
  }

  /** What is held of an edge; −1 where nothing is. */
  get(a: number, b: number): number {
    const h = this.slot(a, b);
    return this.from[h]! < 0 ? -1 : this.held[h]!;
  }

  /** Adds to what is held of an edge, from nothing. */
  add(a: number, b: number, by: number): void {
    const h = this.slot(a, b);
    if (this.from[h]! < 0) {
      this.from[h] = a;
      this.to[h] = b;
    }
    this.held[h] = this.held[h]! + by;
  }

  /** How many edges hold what is asked for. */
  count(asked: (held: number) => boolean): number {
    let n = 0;
    for (let h = 0; h < this.from.length; h++) if (this.from[h]! >= 0 && asked(this.held[h]!)) n++;
    return n;
  }

  put(a: number, b: number, value: number): void {
    const h = this.slot(a, b);
    this.from[h] = a;
    this.to[h] = b;
    this.held[h] = value;
  }
}
