/**
 * A body as the kernel writes it, with faces, edges and curves put in by hand: topology by the hundred in one reading, where booleans take
 * minutes. The format is the kernel's own text (CASCADE Topology V3): sections of curves and surfaces, then shapes, each after those it is made of.
 */
import type { Vec3 } from '../core/geometry/vectors';
import { dimension, multiplicities, type SplineSpace, type SplineSurface } from '../core/surfaces/space';

/** A shape that is put in, before it has a number. */
export interface NewShape {
  readonly name: string;
}
/** A use of a shape by another: its number or itself, and which way. */
export interface Use {
  readonly of: number | NewShape;
  readonly sense: 1 | -1;
  /** The transformation it is placed by, by number; as it is where left out. */
  readonly by?: number;
}

const SECTIONS = ['Curve2ds', 'Curves', 'Surfaces'] as const;
type Section = (typeof SECTIONS)[number];

interface Block {
  /** What stands before the uses. */
  readonly head: string;
  uses: Use[];
}

/** What kind of shape it is in its own life: seven marks, alone on their line. */
const FLAGS = /^[01]{7}\s*$/;

const number = (x: number): string => (Math.abs(x) < 1e-300 ? '0' : x.toPrecision(17));
const list = (xs: readonly number[]): string => xs.map(number).join(' ');

/** Knots as the kernel writes them. */
function knotText(s: SplineSpace): { readonly count: number; readonly text: string } {
  const { knots, counts } = multiplicities(s);
  return { count: knots.length, text: knots.map((k, i) => `${number(k)} ${counts[i]}`).join('\n') };
}

export class BrepText {
  private readonly before: string;
  private readonly sections: Record<Section, { count: number; text: string; added: string[] }>;
  private readonly gaps: string[];
  private readonly old: Block[];
  private readonly root: string;
  private readonly added: { shape: NewShape; block: Block }[] = [];

  /** @returns undefined where the text is not what is known of the format */
  static read(text: string): BrepText | undefined {
    const at = (word: string): RegExpExecArray | null => new RegExp(`^${word} (\\d+)\\r?\\n`, 'm').exec(text);
    const heads = ['Locations', 'Curve2ds', 'Curves', 'Polygon3D', 'PolygonOnTriangulations', 'Surfaces', 'Triangulations', 'TShapes'].map(
      at,
    );
    if (heads.some((h) => !h)) return undefined;
    const [, curve2ds, curves, polygon3d, , surfaces, triangulations, shapes] = heads as RegExpExecArray[];
    if (polygon3d![1] !== '0' || triangulations![1] !== '0') return undefined;
    const after = (h: RegExpExecArray): number => h.index + h[0].length;
    const blocks: Block[] = [];
    const lines = text.slice(after(shapes!)).split('\n');
    let i = 0;
    for (let n = Number(shapes![1]); n > 0; n--) {
      const head: string[] = [];
      // Uses come after a line of flags, ten to a line.
      while (i < lines.length && !FLAGS.test(lines[i]!)) head.push(lines[i++]!);
      const flags = lines[i++];
      if (flags === undefined) return undefined;
      head.push(flags);
      const list: string[] = [];
      while (i < lines.length && !list.at(-1)?.trimEnd().endsWith('*')) list.push(lines[i++]!);
      if (!list.at(-1)?.trimEnd().endsWith('*')) return undefined;
      const uses: Use[] = [];
      for (const m of list.join(' ').matchAll(/([+-])(\d+) (\d+)/g)) {
        uses.push({ of: Number(m[2]), sense: m[1] === '+' ? 1 : -1, ...(m[3] === '0' ? {} : { by: Number(m[3]) }) });
      }
      blocks.push({ head: head.join('\n'), uses });
    }
    const section = (h: RegExpExecArray, end: number) => ({ count: Number(h[1]), text: text.slice(after(h), end), added: [] });
    return new BrepText(
      text.slice(0, curve2ds!.index),
      {
        Curve2ds: section(curve2ds!, curves!.index),
        Curves: section(curves!, polygon3d!.index),
        Surfaces: section(surfaces!, triangulations!.index),
      },
      [text.slice(polygon3d!.index, surfaces!.index), text.slice(triangulations!.index, shapes!.index)],
      blocks,
      lines.slice(i).join('\n'),
    );
  }

  private constructor(before: string, sections: BrepText['sections'], gaps: string[], old: Block[], root: string) {
    this.before = before;
    this.sections = sections;
    this.gaps = gaps;
    this.old = old;
    this.root = root;
  }

  /** What kind of shape a number is: Ve, Ed, Wi, Fa, Sh, So, Co. */
  kind(n: number): string {
    return this.block(n).head.trimStart().slice(0, 2);
  }
  uses(n: number): readonly Use[] {
    return this.block(n).uses;
  }
  setUses(n: number, uses: Use[]): void {
    this.block(n).uses = uses;
  }
  /** The number of a face's surface; undefined where that is placed by a transformation of its own. */
  surfaceOf(face: number): number | undefined {
    const found = /^Fa\s+\d+\s+\S+\s+(\d+)\s+0\s/.exec(this.block(face).head.trimStart());
    return found ? Number(found[1]) : undefined;
  }
  /** An edge that a surface closes in: its curve, both its curves on the surface and where they run; undefined where it has none such. */
  seam(
    edge: number,
  ): { readonly curve: number; readonly flats: readonly [number, number]; readonly from: number; readonly to: number } | undefined {
    const { head } = this.block(edge);
    const curve = /^\s*1\s+(\d+)\s+0\s+\S+\s+\S+\s*$/m.exec(head);
    const flats = /^\s*3\s+(\d+)\s+(\d+)\s*C\w+\s+\d+\s+0\s+(\S+)\s+(\S+)\s*$/m.exec(head);
    if (!curve || !flats) return undefined;
    return { curve: Number(curve[1]), flats: [Number(flats[1]), Number(flats[2])], from: Number(flats[3]), to: Number(flats[4]) };
  }
  /** The faces in the order they are gone through, with the shell each is of. */
  faces(): { readonly face: number; readonly shell: number; readonly use: Use }[] {
    const out: { face: number; shell: number; use: Use }[] = [];
    const go = (n: number): void => {
      for (const use of this.uses(n)) {
        const { of } = use;
        if (typeof of !== 'number') continue;
        if (this.kind(of) === 'Fa') out.push({ face: of, shell: n, use });
        else if (['Sh', 'So', 'Co', 'CS'].includes(this.kind(of))) go(of);
      }
    };
    const top = /^[+-](\d+) /.exec(this.root.trimStart());
    if (top) go(Number(top[1]));
    return out;
  }

  private block(n: number): Block {
    return this.old[this.old.length - n]!;
  }
  private put(section: Section, text: string): number {
    const s = this.sections[section];
    s.added.push(text);
    return s.count + s.added.length;
  }

  line2d(a: readonly [number, number], way: readonly [number, number]): number {
    return this.put('Curve2ds', `1 ${list([...a, ...way])}`);
  }
  spline2d(space: SplineSpace, poles: readonly (readonly number[])[]): number {
    return this.put('Curve2ds', this.spline(space, poles));
  }
  spline3d(space: SplineSpace, poles: readonly (readonly number[])[]): number {
    return this.put('Curves', this.spline(space, poles));
  }
  private spline(space: SplineSpace, poles: readonly (readonly number[])[]): string {
    const knots = knotText(space);
    return `7 0 ${space.periodic ? 1 : 0} ${space.degree} ${poles.length} ${knots.count} ${poles.map(list).join(' ')}\n${knots.text}`;
  }
  ball(centre: Vec3, z: Vec3, x: Vec3, y: Vec3, radius: number): number {
    return this.put('Surfaces', `4 ${list([...centre, ...z, ...x, ...y, radius])}`);
  }
  splineSurface({ u, v, poles }: SplineSurface): number {
    const [ku, kv] = [knotText(u), knotText(v)];
    const head = ['9 0 0', u.periodic ? 1 : 0, v.periodic ? 1 : 0, u.degree, v.degree, dimension(u), dimension(v), ku.count, kv.count].join(
      ' ',
    );
    return this.put('Surfaces', `${head} ${poles.map((row) => row.map(list).join(' ')).join('\n')}\n${ku.text}\n${kv.text}`);
  }

  private shape(name: string, head: string, uses: Use[]): NewShape {
    const shape: NewShape = { name };
    this.added.push({ shape, block: { head, uses } });
    return shape;
  }
  vertex(p: Vec3, tolerance: number): NewShape {
    return this.shape('vertex', `Ve\n${number(tolerance)}\n${list(p)}\n0 0\n\n0101101`, []);
  }
  /**
   * @param flats its curves on surfaces: one on each, two where that closes in it (where it is used forwards, then backwards)
   * @param range parameters of its ends
   */
  edge(
    curve: number,
    flats: readonly { readonly on: number; readonly by: readonly [number] | readonly [number, number] }[],
    range: readonly [number, number],
    ends: readonly [NewShape | number, NewShape | number],
    tolerance: number,
  ): NewShape {
    const lines = flats.map(({ on, by }) =>
      by.length === 1 ? `2 ${by[0]} ${on} 0 ${list(range)}` : `3 ${by[0]} ${by[1]}CN ${on} 0 ${list(range)}`,
    );
    return this.shape('edge', `Ed\n ${number(tolerance)} 1 1 0\n1 ${curve} 0 ${list(range)}\n${lines.join('\n')}\n0\n\n0101000`, [
      { of: ends[0], sense: 1 },
      { of: ends[1], sense: -1 },
    ]);
  }
  /** An edge without a length, where a surface runs together in a place: its curve on that surface alone. */
  pole(on: number, by: number, range: readonly [number, number], at: NewShape, tolerance: number): NewShape {
    return this.shape('edge', `Ed\n ${number(tolerance)} 1 1 1\n2 ${by} ${on} 0 ${list(range)}\n0\n\n0101000`, [
      { of: at, sense: 1 },
      { of: at, sense: -1 },
    ]);
  }
  wire(uses: Use[]): NewShape {
    return this.shape('wire', 'Wi\n\n0101100', uses);
  }
  face(surface: number, wires: Use[], tolerance: number): NewShape {
    return this.shape('face', `Fa\n0 ${number(tolerance)} ${surface} 0\n\n0111000`, wires);
  }

  /** The whole text, every shape after those it is made of. */
  toString(): string {
    const order: (number | NewShape)[] = [];
    const seen = new Set<number | NewShape>();
    const blockOf = new Map(this.added.map((a) => [a.shape, a.block]));
    const found = (of: number | NewShape): Block => (typeof of === 'number' ? this.block(of) : blockOf.get(of)!);
    const put = (of: number | NewShape): void => {
      if (seen.has(of)) return;
      seen.add(of);
      for (const u of found(of).uses) put(u.of);
      order.push(of);
    };
    const top = Number(/^[+-](\d+) /.exec(this.root.trimStart())![1]);
    put(top);
    // They are numbered from the end.
    const numbers = new Map(order.map((of, i) => [of, order.length - i]));
    const render = ({ head, uses }: Block): string =>
      `${head}\n${uses.map(({ of, sense, by }) => `${sense > 0 ? '+' : '-'}${numbers.get(of)!} ${by ?? 0} `).join('')}*`;
    const section = (name: Section): string => {
      const { count, text, added } = this.sections[name];
      return `${name} ${count + added.length}\n${text}${added.map((a) => `${a}\n`).join('')}`;
    };
    return [
      this.before,
      section('Curve2ds'),
      section('Curves'),
      this.gaps[0],
      section('Surfaces'),
      this.gaps[1],
      `TShapes ${order.length}\n`,
      order.map((of) => render(found(of))).join('\n'),
      '\n',
      this.root.replace(/^(\s*[+-])\d+/, `$1${numbers.get(top)!}`),
    ].join('');
  }
}
