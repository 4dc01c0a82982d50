/** A printer that lays lines in layers: how large, how fine, and what it goes without support. */
import { z } from 'zod';
import type { Vec3 } from '../geometry/vectors';

const size = z.number().positive().max(5000);
export const printerSchema = z.object({
  /** Room for the part, mm. */
  bed: z.tuple([size, size, size]).readonly(),
  /** Width of a line, mm. */
  line: size,
  /** Height of a layer, mm. */
  layer: size,
  /** Largest lean of an underside from the upright that goes without support, rad. */
  overhang: z
    .number()
    .min(0)
    .max(Math.PI / 2),
  /** Widest gap that is bridged, mm. */
  bridge: z.number().min(0).max(500),
  /** Of the nozzle while it lays lines, mm/s. */
  speed: size,
  /** What logged prints took for every second that was reckoned of them, and used for every gram. */
  pace: z.number().positive().max(50).default(1),
  fill: z.number().positive().max(50).default(1),
});
export type Printer = z.infer<typeof printerSchema> & { readonly bed: Vec3 };

/** A desktop printer with a nozzle of 0.4 mm: common practice, no source. */
export const DESKTOP: Printer = {
  bed: [220, 220, 250],
  line: 0.45,
  layer: 0.2,
  overhang: (45 * Math.PI) / 180,
  bridge: 10,
  speed: 60,
  pace: 1,
  fill: 1,
};

/** Formats that are printed from. */
export const PRINTED: readonly string[] = ['stl', '3mf'];

/** Share of solid material that support is built of: common practice, no source. */
export const SPARSE = 0.2;
/** Time a layer takes beside its lines, s: common practice, no source. */
export const PER_LAYER = 2;

/** Lines of a width and a layer's height laid at one speed, and so much for each layer; what is hollow is solid here: its walls are few lines. s. */
export const secondsOf = ({ line, layer, speed, pace }: Printer, solid: number, support: number, layers: number): number =>
  pace * ((solid + SPARSE * support) / (line * layer * speed) + PER_LAYER * layers);

/** What of a material is used, as if solid. @param solid mm³ @param density g/cm³ */
export const gramsOf = ({ fill }: Printer, solid: number, support: number, density: number): number =>
  fill * ((solid + SPARSE * support) / 1000) * density;

/** A wall in lines of a width: how many whole ones come nearest, and the width each would have. @param wall mm */
export function linesOf(wall: number, line: number): { readonly exact: number; readonly whole: number; readonly width: number } {
  const exact = wall / line;
  const whole = Math.max(1, Math.round(exact));
  return { exact, whole, width: wall / whole };
}
