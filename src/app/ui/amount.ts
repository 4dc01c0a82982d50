import type { Project } from '../../core/recipe/schema';
import { formatArea, formatLength, formatVolume } from '../../core/units/units';
import type { BodyReport } from '../../engine/types';

/** How much of it there is, and whether it is closed; the borders of a surface with their lengths. */
export function bodyAmount(b: BodyReport, units: Project['units']): string {
  if (b.facets && !b.closed)
    return `facets of ${formatArea(b.area, units)}, ${b.borders.length} open border${b.borders.length === 1 ? '' : 's'}, no exact faces`;
  if (b.facets) return `${formatVolume(b.volume, units)}, closed mesh, no exact faces`;
  if (b.closed) return `${formatVolume(b.volume, units)}, ${b.faces} faces, closed solid`;
  const borders = b.borders.map(
    (l) => `${formatLength(l.length, units, 2)}${l.offPlane > 1e-3 ? `, ${formatLength(l.offPlane, units)} off a plane` : ''}`,
  );
  const open =
    borders.length === 0 ? 'without a border' : `${borders.length} open border${borders.length > 1 ? 's' : ''}: ${borders.join('; ')}`;
  return `surface of ${formatArea(b.area, units)}, ${b.faces} face${b.faces === 1 ? '' : 's'}, ${open}`;
}
