/** Tells the time that goes into checking what was built apart from the time of building it. */

let spent = 0;
let depth = 0;

/** Work that checks or describes; what it takes counts as that, once where such work is nested. */
export function checking<T>(work: () => T): T {
  const since = performance.now();
  depth++;
  try {
    return work();
  } finally {
    depth--;
    if (depth === 0) spent += performance.now() - since;
  }
}

/** Time spent checking since this was asked last, ms. */
export function takeChecked(): number {
  const taken = spent;
  spent = 0;
  return taken;
}
