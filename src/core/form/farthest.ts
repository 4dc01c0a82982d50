/** Largest distance of places from the upright axis, mm. */
export function farthest(places: ArrayLike<number>): number {
  let radius = 0;
  for (let i = 0; i < places.length; i += 3) radius = Math.max(radius, Math.hypot(places[i]!, places[i + 1]!));
  return radius;
}
