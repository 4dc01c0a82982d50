/** The project's named dimensions: order of dependency, cycles and errors in words. */
import { fail, ok, type Result } from '../result';
import { evaluateQuantity, namesIn, type Quantity, type Scope } from './expression';

export interface NamedDimension {
  readonly name: string;
  readonly expr: string;
}

export interface DimensionTable {
  /** Value or error of each dimension, in the order given. */
  readonly values: ReadonlyMap<string, Result<Quantity>>;
  readonly scope: Scope;
}

/**
 * Evaluates all named dimensions.
 * @example evaluateDimensions([{ name: 'height', expr: '140 mm' }, { name: 'mouth', expr: 'height/3' }])
 */
export function evaluateDimensions(dimensions: readonly NamedDimension[]): DimensionTable {
  const byName = new Map(dimensions.map((d) => [d.name, d]));
  const done = new Map<string, Result<Quantity>>();
  const path: string[] = [];

  const value = (name: string): Result<Quantity> | undefined => {
    const known = done.get(name);
    if (known) return known;
    const dimension = byName.get(name);
    if (!dimension) return undefined;
    const at = path.indexOf(name);
    if (at >= 0) {
      const round = [...path.slice(at), name];
      return fail(
        `${round[0]} goes in a circle: ${round
          .slice(0, -1)
          .map((n, i) => `${n} uses ${round[i + 1]}`)
          .join(', ')}`,
      );
    }
    if (path.length > 200) return fail('these dimensions refer to one another too deeply');
    path.push(name);
    let r = evaluateQuantity(dimension.expr, value);
    path.pop();
    // A dimension that merely refers to a broken one says so by name, once.
    if (!r.ok && !r.error.includes('circle')) {
      const broken = namesIn(dimension.expr).find((n) => done.get(n)?.ok === false);
      if (broken) r = fail(`it uses ${broken}, which has no value`);
    }
    done.set(name, r);
    return r;
  };

  for (const d of dimensions) value(d.name);
  const values = new Map(dimensions.map((d) => [d.name, done.get(d.name)!]));
  return {
    values,
    scope: (name) => {
      const r = values.get(name);
      if (!r) return undefined;
      return r.ok ? ok(r.value) : fail(`${name} has no value: ${r.error}`);
    },
  };
}
