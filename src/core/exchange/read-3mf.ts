/**
 * The facets of a 3MF package: its objects with what they are made of, where they are set. Source: 3MF Core Specification 1.2. Its text is gone over
 * once, tag by tag, so that a large one takes no longer than its length.
 */
import { strFromU8, unzipSync } from 'fflate';
import { fail, ok, type Result } from '../result';

/** What a package may unpack to, bytes. */
const MOST = 400_000_000;
/** Objects within objects. */
const DEEPEST = 8;

const UNITS_3MF = { micron: 1e-3, millimeter: 1, centimeter: 10, inch: 25.4, foot: 304.8, meter: 1000 } as const;

interface Item {
  readonly object: string;
  /** Twelve numbers, row by row, the last row the way it is moved. */
  readonly by: readonly number[] | null;
}
interface Model {
  readonly places: number[];
  readonly corners: number[];
  readonly parts: Item[];
}

const attribute = (tag: string, name: string): string | undefined => new RegExp(`\\s${name}\\s*=\\s*["']([^"']*)["']`).exec(tag)?.[1];

/** @returns nine numbers a facet, mm */
export function read3mf(bytes: Uint8Array): Result<Float32Array> {
  let text: string;
  try {
    let size = 0;
    const files = unzipSync(bytes, {
      filter: (f) => {
        if (!/^3D\/[^/]*\.model$/i.test(f.name)) return false;
        size += f.originalSize;
        if (size > MOST) throw new RangeError('large');
        return true;
      },
    });
    const name = Object.keys(files)[0];
    if (name === undefined) return fail('it holds no model');
    text = strFromU8(files[name]!);
  } catch (e) {
    return fail(e instanceof RangeError ? `it unpacks to more than ${MOST / 1e6} MB` : 'it is damaged, or no 3MF package');
  }
  const models = new Map<string, Model>();
  const built: Item[] = [];
  let scale = 1;
  let now: Model | undefined;
  const itemOf = (tag: string): Item => {
    const by = attribute(tag, 'transform')?.trim().split(/\s+/).map(Number);
    return { object: attribute(tag, 'objectid') ?? '', by: by?.length === 12 && by.every(Number.isFinite) ? by : null };
  };
  for (const m of text.matchAll(/<(?:\w+:)?(model|object|vertex|triangle|component|item)(\s[^>]*)?>/g)) {
    const [, what, tag = ''] = m;
    if (what === 'vertex') for (const k of ['x', 'y', 'z']) now?.places.push(Number(attribute(tag, k)));
    else if (what === 'triangle') for (const k of ['v1', 'v2', 'v3']) now?.corners.push(Number(attribute(tag, k)));
    else if (what === 'component') now?.parts.push(itemOf(tag));
    else if (what === 'item') built.push(itemOf(tag));
    else if (what === 'object') {
      now = { places: [], corners: [], parts: [] };
      models.set(attribute(tag, 'id') ?? '', now);
    } else {
      const unit = attribute(tag, 'unit') ?? 'millimeter';
      if (!(unit in UNITS_3MF)) return fail(`its lengths are in “${unit.slice(0, 20)}”, which is no unit of 3MF`);
      scale = UNITS_3MF[unit as keyof typeof UNITS_3MF];
    }
  }
  const out: number[] = [];
  const moved = (p: readonly number[], by: readonly number[] | null): number[] =>
    by ? [0, 1, 2].map((k) => p[0]! * by[k]! + p[1]! * by[3 + k]! + p[2]! * by[6 + k]! + by[9 + k]!) : [...p];
  const put = (item: Item, ways: readonly (readonly number[] | null)[], depth: number): boolean => {
    const model = models.get(item.object);
    if (!model || depth > DEEPEST) return false;
    const all = [item.by, ...ways];
    for (const c of model.corners) {
      const p = model.places.slice(3 * c, 3 * c + 3);
      if (p.length < 3) return false;
      out.push(...all.reduce<number[]>((q, by) => moved(q, by), p).map((x) => x * scale));
    }
    return model.parts.every((part) => put(part, all, depth + 1));
  };
  const items = built.length > 0 ? built : [...models.keys()].map((object): Item => ({ object, by: null }));
  if (!items.every((i) => put(i, [], 0))) return fail('it refers to what it does not hold');
  return out.length < 9 ? fail('it holds no facets') : ok(Float32Array.from(out));
}
