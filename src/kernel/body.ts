import type { Cage } from '../core/form/cage';
import type { FaceName } from '../core/recipe/names';
import { fail, type Result } from '../core/result';
import type { Ties } from '../core/surfaces/loft';
import { renamed } from '../core/turned/meridian';
import type { Shape } from './open';
import type { Straight, Turned } from './outlines';
import type { BodyMesh } from './tessellate';
import type { Verified } from './verify';

/** A solid, or a surface, with the provenance name of every face, in the kernel's face order. */
export interface KernelBody {
  readonly shape: Shape;
  readonly faces: readonly FaceName[];
  /** Exact volume in mm³, known from verification; 0 for a surface. */
  readonly volume: number;
  /** It is several solids apart from each other. */
  readonly pieces?: number;
  /** It is a skin without an inside, which may have borders. */
  readonly surface?: true;
  /** It is known by its facets alone, which are its mesh; the shape is what it was before. */
  readonly facets?: true;
  /** Its meridian, where every face is turned about one axis, all round. */
  readonly turned?: Turned;
  /** Its outline, where it is one of constant section. */
  readonly straight?: Straight;
  /** The cage of the form it is cut from by planes, where it stands. */
  readonly form?: Cage;
  /** The mesh it was verified on, if still at hand; of a body of facets the body itself. */
  readonly mesh?: BodyMesh;
}

/** A verified solid with its names. */
export const asBody = (v: Verified, faces: readonly FaceName[]): KernelBody => ({
  shape: v.shape,
  faces,
  volume: v.volume,
  mesh: v.mesh,
  ...(v.solids > 1 ? { pieces: v.solids } : {}),
});

/** A verified surface with its names. */
export const asSurface = (v: Verified, faces: readonly FaceName[]): KernelBody => ({ ...asBody(v, faces), volume: 0, surface: true });

/** The same body with its faces under other names. */
export const withNames = (body: KernelBody, rename: (name: FaceName) => FaceName): KernelBody => ({
  ...body,
  faces: body.faces.map(rename),
  ...(body.turned ? { turned: { ...body.turned, meridian: renamed(body.turned.meridian, rename) } } : {}),
  ...(body.straight
    ? {
        straight: {
          ...body.straight,
          section: renamed(body.straight.section, rename),
          start: rename(body.straight.start),
          end: rename(body.straight.end),
        },
      }
    : {}),
});

/** Why a step could not be done, in words; nothing of it reaches the document. */
export interface StepFailure {
  readonly what: string;
  readonly why: string;
  readonly tryInstead: readonly string[];
  /** Nothing is wrong with it: something that it needs was not chosen yet. */
  readonly unfinished?: true;
  /** Place in space, mm. */
  readonly at?: readonly [number, number, number];
  readonly ties?: Ties;
  /** A pick that is on its body no more. */
  readonly lost?: LostPick;
  /** Changes that would help, each made with one click. */
  readonly fixes?: readonly Fix[];
}

/** How a kind of step says what it still needs: why it can't be done yet, and what to pick next. */
export const wanting =
  (what: string) =>
  (why: string, next: string): Result<never, StepFailure> =>
    fail({ what, why, tryInstead: [next], unfinished: true });

/** A change of a step's choices or values, in words. */
export interface Fix {
  readonly words: string;
  readonly step: string;
  readonly inputs?: Readonly<Record<string, unknown>>;
  readonly values?: Readonly<Record<string, string>>;
  /** Another kind the step becomes, with all of its choices in `inputs`. */
  readonly kind?: string;
}

/** A face or edge that was picked and is gone, with the names most like it that are there. */
export interface LostPick {
  readonly body: string;
  readonly what: 'face' | 'edge';
  readonly name: string;
  readonly candidates: readonly string[];
}
