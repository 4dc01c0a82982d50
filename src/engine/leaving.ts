/**
 * Workers are ended when their page is left, before the browser takes it down: a renderer whose page went while a worker was still beginning has
 * crashed, about once in thirty times.
 */
const open = new Set<() => void>();
let left = false;

globalThis.addEventListener?.('pagehide', () => {
  left = true;
  for (const end of [...open]) end();
});
// Come back to as it was left.
globalThis.addEventListener?.('pageshow', () => {
  left = false;
});

/** Whether the page is left: no worker begins any more. */
export const hasLeft = (): boolean => left;

/** @param end called when the page is left @returns takes it off again */
export function untilLeft(end: () => void): () => void {
  open.add(end);
  return () => void open.delete(end);
}
