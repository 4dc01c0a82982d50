/** What bodies keep of the outlines they were made from. */
import type { Frame } from '../core/curves/frame';
import type { Meridian } from '../core/turned/meridian';

/** What a turned body is, beside its shape. */
export interface Turned {
  /** Its origin and upright are the axis; its seam lies along `x`. */
  readonly frame: Frame;
  /** In the frame's plane, faces named as the body's. */
  readonly meridian: Meridian;
}

/** What a body of constant section is, beside its shape. */
export interface Straight {
  /** Of the section the body begins with. */
  readonly frame: Frame;
  /** Along the frame's normal, mm; negative where it was pushed back. */
  readonly height: number;
  /** Its loops, the material to the left, curves named as the body's sides. */
  readonly section: Meridian;
  /** The flat ends. */
  readonly start: string;
  readonly end: string;
}
