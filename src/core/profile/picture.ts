/** The reference picture under a drawing. */
import type { Point2 } from '../curves/planar';
import type { Picture } from '../recipe/schema';
import { fail, ok, type Result } from '../result';

/**
 * Scales a picture so that two places on it stand a known length apart; the first place stays where it is.
 * @param a, b places on the board in mm as the picture lies now; @param length wanted between them, mm
 */
export function scalePicture(picture: Picture, a: Point2, b: Point2, length: number): Result<Picture> {
  const now = Math.hypot(b.x - a.x, b.y - a.y);
  if (!(now > 1e-6)) return fail('the two places fall together');
  if (!(length > 0)) return fail('the length is more than nothing');
  const k = length / now;
  const width = picture.width * k;
  if (!(width < 1e5) || !(width > 1e-3)) return fail('the picture would be smaller than 1 µm or larger than 100 m');
  return ok({ ...picture, width, x: a.x + (picture.x - a.x) * k, y: a.y + (picture.y - a.y) * k });
}
