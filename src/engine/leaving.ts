/**
 * Workers are ended when their page is left, before the browser takes it down: a renderer whose page went while a worker was still beginning has
 * crashed, about once in thirty times.
 */
const open = new Set<() => void>();

globalThis.addEventListener?.('pagehide', () => {
  for (const end of [...open]) end();
});

/** @param end called when the page is left @returns takes it off again */
export function untilLeft(end: () => void): () => void {
  open.add(end);
  return () => void open.delete(end);
}
