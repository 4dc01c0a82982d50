/** Which leader lines stand beside what is shown, and where: those that are seen from where one looks. */
import type { Vec3 } from '../../core/geometry/vectors';
import type { ViewName } from '../state/bench';
import type { Overall } from './extent';

export interface Leader {
  readonly from: Vec3;
  readonly to: Vec3;
  /** Half of the stroke at either end. */
  readonly tick: Vec3;
  readonly words: string;
}

/** Share of the larger side that lines keep off the body, and of that the strokes at their ends. */
const [OFF, STROKE] = [0.12, 0.25] as const;

/**
 * @param view the view that was asked for last; another direction than a named one is taken for the corner
 * @param length mm in words with their unit, `size` without where that is known anyway
 */
export function leadersOf(
  { min, max, round }: Overall,
  view: ViewName | undefined,
  length: (mm: number) => string,
  size: (mm: number) => string,
): Leader[] {
  const [w, d, h] = max.map((m, k) => m - min[k]!) as [number, number, number];
  const middle = min.map((m, k) => (m + max[k]!) / 2) as [number, number, number];
  const gap = OFF * Math.max(w, h);
  const stroke = STROKE * gap;
  const top = max[2] + 1.25 * gap;
  const across = (words: string, y: number, z: number, tick: Vec3): Leader => ({ from: [min[0], y, z], to: [max[0], y, z], tick, words });
  const away = (words: string, x: number, z: number, tick: Vec3): Leader => ({ from: [x, min[1], z], to: [x, max[1], z], tick, words });
  const up = (x: number, y: number, tick: Vec3): Leader => ({ from: [x, y, min[2]], to: [x, y, max[2]], tick, words: length(h) });
  if (view === 'above' || view === 'below')
    return [
      across(round ? `⌀ ${size(w)}` : `${size(w)} wide`, view === 'above' ? min[1] - gap : max[1] + gap, middle[2], [0, stroke, 0]),
      ...(round ? [] : [away(`${size(d)} deep`, max[0] + gap, middle[2], [stroke, 0, 0])]),
    ];
  if (view === 'side')
    return [up(middle[0], max[1] + gap, [0, stroke, 0]), away(round ? `⌀ ${size(d)}` : `${size(d)} deep`, middle[0], top, [0, 0, stroke])];
  return [
    up(max[0] + gap, middle[1], [stroke, 0, 0]),
    across(round ? `⌀ ${size(w)}` : `${size(w)} wide, ${size(d)} deep`, middle[1], top, [0, 0, stroke]),
  ];
}
