/** What the engine tells the page and the headless runner. Plain data, so that it crosses a worker's border. */
import type { Readings } from '../core/brief/gauges';
import type { Frame } from '../core/curves/frame';
import type { Cage } from '../core/form/cage';
import type { Bounds } from '../core/mesh/mesh';
import type { Follows } from '../core/profile/follow';
import type { Ties } from '../core/surfaces/loft';
import type { Fix, LostPick } from '../kernel/body';
import type { Straight, Turned } from '../kernel/outlines';
import type { WallChart } from '../kernel/steps/operation';
import type { BorderLoop } from '../kernel/surface';
import type { BodyMesh } from '../kernel/tessellate';

export type { Fix, LostPick };

type StepState = 'done' | 'warned' | 'failed' | 'skipped';

export interface StepReport {
  readonly id: string;
  readonly kind: string;
  readonly state: StepState;
  /** Time its building took when it was computed, ms; 0 where it came from the cache. */
  readonly ms: number;
  /** Time its checks and descriptions took beside that, ms. */
  readonly checkMs: number;
  readonly cached: boolean;
  /** What is to be said: why it failed or was skipped, or its first warning. */
  readonly message: string | null;
  /** The arithmetic the step did: how many, how far apart, what is left. */
  readonly note: string | null;
  readonly why: string | null;
  /** It failed for want of something that was not chosen yet, and for nothing else. */
  readonly unfinished: boolean;
  readonly tryInstead: readonly string[];
  readonly warnings: readonly { readonly message: string; readonly at?: readonly [number, number, number] }[];
  readonly at: readonly [number, number, number] | null;
  /** mm³ added or removed. */
  readonly volumeChange: number | null;
  readonly faces: number | null;
  /** Ids of the bodies it made or changed: how many pieces there are only the build can tell. */
  readonly made: readonly string[];
  /** Which places of a loft's sections belong together, also where the loft failed. */
  readonly ties: Ties | null;
  /** A pick that is on its body no more, with what may be meant instead. */
  readonly lost: LostPick | null;
  readonly fixes: readonly Fix[];
  /** Wall by height, where a step made one. */
  readonly chart: WallChart | null;
}

export interface BodyReport {
  readonly id: string;
  readonly name: string;
  readonly closed: boolean;
  /** It is known by its facets alone. */
  readonly facets: boolean;
  /** Borders of a surface: lines with a face on one side only. */
  readonly borders: readonly BorderLoop[];
  readonly volume: number;
  readonly area: number;
  readonly bbox: Bounds;
  readonly centroid: readonly [number, number, number];
  readonly faces: number;
  readonly edges: number;
}

/** Everything the stage needs to draw a body and to pick on it. */
export interface BodyScene {
  readonly id: string;
  readonly name: string;
  /** It has no inside to be cut open. */
  readonly surface: boolean;
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
  readonly faceOf: Uint32Array;
  readonly segments: Float32Array;
  readonly edgeOf: Uint32Array;
  readonly faceNames: readonly string[];
  /** Area of each face, mm². */
  readonly faceAreas: readonly number[];
  readonly edgeNames: readonly string[];
  /** Length of each edge, mm. */
  readonly edgeLengths: readonly number[];
}

/** Where a profile lies and what it follows there. */
export interface ProfilePlace {
  /** Null where its plane is not placed. */
  readonly frame: Frame | null;
  readonly follows: Follows | null;
  readonly problem: string | null;
}

export interface RebuildResult {
  readonly cancelled: boolean;
  readonly ms: number;
  readonly steps: readonly StepReport[];
  readonly bodies: readonly BodyReport[];
  /** Planes by the step that placed them. */
  readonly planes: ReadonlyMap<string, Frame>;
  /** Curves in space by the step that drew them, as places in a row. */
  readonly paths: ReadonlyMap<string, Float32Array>;
  /** Profiles on placed planes and those that follow bodies. */
  readonly profiles: ReadonlyMap<string, ProfilePlace>;
  readonly computed: number;
  readonly heap: number;
  readonly renewals: number;
}

interface Spot {
  readonly at: readonly [number, number, number];
  readonly normal: readonly [number, number, number];
  readonly value: number;
}

export interface MeasureResult {
  readonly body: string;
  readonly readings: Readings;
  readonly thinnest: Spot | null;
  /** Where exact faces lie farthest from the limit of the cage they come of. */
  readonly offCage: { readonly at: readonly [number, number, number]; readonly value: number } | null;
  readonly thickest: Spot | null;
  /** Convex edges sharper than 60°, sharpest first. */
  readonly knifeEdges: readonly { readonly edge: string; readonly angle: number; readonly at: readonly [number, number, number] }[];
  readonly brim: number | null;
  readonly fillLevel: number | null;
  readonly ms: number;
}

/** A body as text. */
export interface MadeBody {
  readonly id: string;
  readonly brep: string;
  readonly faces: readonly string[];
  readonly volume: number;
  readonly pieces?: number;
  readonly surface?: true;
  /** Of a body of facets: the body itself. */
  readonly mesh?: BodyMesh;
  readonly turned?: Turned;
  readonly straight?: Straight;
  readonly form?: Cage;
}

/** What a step made, from which a new kernel can go on. */
export interface Checkpoint {
  readonly key: string;
  readonly made: readonly MadeBody[];
  readonly gone: readonly string[];
  readonly report: StepReport;
}

/** Edges as acute as a knife's. */
export interface KnifeEdges {
  /** Pairs of faces, by index, that meet at an acute convex edge. */
  readonly pairs: ReadonlySet<string>;
  /** The sharpest of these edges with their interior angle, degrees. */
  readonly list: readonly { readonly edge: string; readonly angle: number; readonly at: readonly [number, number, number] }[];
}

/** A step whose engine had to be ended, with the key of what it would have made. */
export interface GivenUp {
  readonly key: string;
  readonly step: { readonly id: string; readonly kind: string };
  readonly seconds: number;
}

export const EXPORT_FORMATS = ['step', 'stl', '3mf', 'obj', 'glb'] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number];

export type Side = 'inward' | 'outward' | 'centred';

/** What a wall will swallow, in the sheet's words. */
export interface WallForecast {
  readonly step: string;
  readonly side: Side;
  /** The wall up to which every detail of the one side still shows on the other, mm; null where nothing limits it. */
  readonly keepsAllUpTo: number | null;
  /** No cavity can exist from this wall on, mm; infinite outwards. */
  readonly noneFrom: number;
  /** Details that the wall asked for will swallow. */
  readonly swallowed: readonly { readonly words: string; readonly at: readonly [number, number, number] }[];
  readonly limit: { readonly words: string; readonly at: readonly [number, number, number] } | null;
}
