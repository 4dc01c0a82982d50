/** A tolerance that closes a gap, as it is typed: a little more than the gap, in no more digits than one would type. */
export function closing(gap: number): string {
  const decade = 10 ** (Math.floor(Math.log10(gap)) - 1);
  return `${Number((Math.ceil((1.05 * gap) / decade) * decade).toPrecision(3))} mm`;
}
