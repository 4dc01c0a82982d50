/** What a pointer does over the stage beside pressing once: drawing a frame, clicking twice. Each listener has its own. */
import type { ScreenFrame } from '../state/asked';
import { setBench, useBench } from '../state/bench';

/** A pointer that moved less far than this has clicked, px. */
export const STILL = 4;
/** Two clicks at one place within this count as one that takes all that go on, ms. */
const TWICE = 400;
/** That place, px. */
const SAME_PLACE = 5;

/** Which way an arrow key moves what is held: up and right are more. Undefined for other keys. */
export const arrowSign = (key: string): number | undefined => ({ ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 })[key];

/** Where the pointer is over an element, px. */
export function placeOver(element: HTMLElement, e: PointerEvent): { x: number; y: number } {
  const box = element.getBoundingClientRect();
  return { x: e.clientX - box.left, y: e.clientY - box.top };
}

/** Tells of every click whether it is the second one at its place. */
export function secondClicks(): (e: PointerEvent) => boolean {
  let last: { x: number; y: number; time: number } | null = null;
  return (e) => {
    const twice = last !== null && e.timeStamp - last.time < TWICE && Math.hypot(e.clientX - last.x, e.clientY - last.y) < SAME_PLACE;
    last = twice ? null : { x: e.clientX, y: e.clientY, time: e.timeStamp };
    return twice;
  };
}

/** A frame drawn over the stage, whose view stands still meanwhile. Only who began one moves and ends it. */
export function frameDrag(element: HTMLElement, controls: () => { enabled: boolean } | null) {
  let drawing = false;
  const hold = (held: boolean): void => {
    const c = controls();
    if (c) c.enabled = !held;
    drawing = held;
  };
  return {
    begin: (e: PointerEvent): void => {
      hold(true);
      const { x, y } = placeOver(element, e);
      setBench({ frame: { x0: x, y0: y, x1: x, y1: y } });
    },
    /** Whether one is drawn. */
    move: (e: PointerEvent): boolean => {
      const { frame } = useBench.getState();
      if (!drawing || !frame) return false;
      const { x, y } = placeOver(element, e);
      setBench({ frame: { ...frame, x1: x, y1: y } });
      return true;
    },
    /** The frame that was drawn; null where none was, or the pointer hardly moved. */
    end: (): ScreenFrame | null => {
      const { frame } = useBench.getState();
      if (!drawing) return null;
      hold(false);
      setBench({ frame: null });
      return frame && Math.hypot(frame.x1 - frame.x0, frame.y1 - frame.y0) > STILL ? frame : null;
    },
  };
}
