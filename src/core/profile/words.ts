/** Constraints and curves of a profile in words, as the board and its messages name them. */
import type { Constraint, Derived, Profile } from '../recipe/schema';

/** A curve by its name, or by what it is and its id. */
export function curveWords(profile: Profile, ref: string): string {
  if (ref === 'axis') return 'the axis';
  if (ref === 'level') return 'the base level';
  const c = profile.curves.find((k) => k.id === ref);
  return c ? (c.name ?? `${c.kind === 'control' ? 'spline' : c.kind} ${c.id}`) : ref;
}

/** What of a drawing makes a curve that was not drawn; undefined for drawn ones. */
export const derivedOf = (profile: Profile, id: string): Derived | undefined => profile.derived.find((d) => id.startsWith(`${d.id}-`));

/**
 * A curve that follows others: “mirror image of line 1”, “copy 3 of arc 2”, “offset, curve 2”.
 * @param of words for the curve it follows
 * @returns undefined where nothing of the profile makes it
 */
export function derivedCurveWords(profile: Profile, id: string, of: (curve: string) => string): string | undefined {
  const d = derivedOf(profile, id);
  if (!d) return undefined;
  const rest = id.slice(d.id.length + 1);
  return DERIVED_WORDS[d.kind](rest, of);
}
const copyWords = (rest: string, of: (curve: string) => string): string => {
  const cut = rest.indexOf('-');
  return `copy ${rest.slice(0, cut)} of ${of(rest.slice(cut + 1))}`;
};
const DERIVED_WORDS: Readonly<Record<Derived['kind'], (rest: string, of: (curve: string) => string) => string>> = {
  mirror: (rest, of) => `mirror image of ${of(rest)}`,
  offset: (rest) => (rest === 'start' || rest === 'end' ? `${rest} of the offset` : `offset, curve ${rest.slice(1)}`),
  linear: copyWords,
  circular: copyWords,
};

export const pointWords = (ref: string): string => (ref === 'origin' ? 'the origin' : `point ${ref}`);

/** A constraint as a short statement: “side is tangent to shoulder”. */
export function constraintWords(profile: Profile, c: Constraint): string {
  const curve = (ref: string): string => curveWords(profile, ref);
  const thing = (ref: string): string => (ref === 'origin' || profile.points.some((p) => p.id === ref) ? pointWords(ref) : curve(ref));
  const value = 'value' in c ? c.value : '';
  const at = (s: string): string => (s === 'start' || s === 'end' ? `its ${s}` : pointWords(s));
  switch (c.kind) {
    case 'coincident':
      return `${pointWords(c.a)} and ${pointWords(c.b)} coincide`;
    case 'on-curve':
      return `${pointWords(c.point)} lies on ${curve(c.curve)}`;
    case 'midpoint':
      return `${pointWords(c.point)} is the middle of ${curve(c.curve)}`;
    case 'horizontal':
      return `${pointWords(c.a)} and ${pointWords(c.b)} are level`;
    case 'vertical':
      return `${pointWords(c.a)} and ${pointWords(c.b)} are plumb`;
    case 'parallel':
      return `${curve(c.a)} is parallel to ${curve(c.b)}`;
    case 'perpendicular':
      return `${curve(c.a)} is square to ${curve(c.b)}`;
    case 'collinear':
      return `${curve(c.a)} is in line with ${curve(c.b)}`;
    case 'tangent':
      return `${curve(c.a)} is tangent to ${curve(c.b)}`;
    case 'smooth':
      return `${curve(c.a)} passes smoothly into ${curve(c.b)}`;
    case 'equal':
      return `${curve(c.a)} equals ${curve(c.b)}`;
    case 'concentric':
      return `${curve(c.a)} is concentric with ${curve(c.b)}`;
    case 'symmetric':
      return `${pointWords(c.a)} mirrors ${pointWords(c.b)} about ${curve(c.line)}`;
    case 'fixed':
      return `${pointWords(c.point)} is fixed`;
    case 'distance': {
      const way = c.direction === 'horizontal' ? ' across' : c.direction === 'vertical' ? ' up' : '';
      return `distance${way} ${value} from ${thing(c.a)} to ${thing(c.b)}`;
    }
    case 'radius':
      return `radius ${value} of ${curve(c.curve)}`;
    case 'diameter':
      return `diameter ${value} of ${curve(c.curve)}`;
    case 'across':
      return `diameter ${value} across the axis at ${pointWords(c.point)}`;
    case 'angle':
      return `angle ${value} between ${curve(c.a)} and ${curve(c.b)}`;
    case 'arc-length':
      return `length ${value} of ${curve(c.curve)}`;
    case 'offset':
      return `offset ${value} from ${curve(c.a)} to ${curve(c.b)}`;
    case 'direction':
      return `direction ${value} of ${curve(c.curve)} at ${at(c.at)}`;
    case 'weight':
      return `weight ${value} of ${curve(c.curve)} at ${at(c.at)}`;
  }
}
