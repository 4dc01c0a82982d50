/** What the engine tells the page and the headless runner. Plain data, so that it crosses a worker's border. */
import type { Readings } from '../core/brief/gauges';
import type { Bounds } from '../core/mesh/mesh';

export type StepState = 'done' | 'warned' | 'failed' | 'skipped';

export interface StepReport {
  readonly id: string;
  readonly kind: string;
  readonly state: StepState;
  /** Time the step took when it was computed; 0 where it came from the cache. */
  readonly ms: number;
  readonly cached: boolean;
  /** What is to be said: why it failed or was skipped, or its first warning. */
  readonly message: string | null;
  readonly why: string | null;
  readonly tryInstead: readonly string[];
  readonly warnings: readonly { readonly message: string; readonly at?: readonly [number, number, number] }[];
  readonly at: readonly [number, number, number] | null;
  /** mm³ added or removed. */
  readonly volumeChange: number | null;
  readonly faces: number | null;
}

export interface BodyReport {
  readonly id: string;
  readonly name: string;
  readonly closed: boolean;
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

export interface RebuildResult {
  readonly cancelled: boolean;
  readonly ms: number;
  readonly steps: readonly StepReport[];
  readonly bodies: readonly BodyReport[];
  readonly computed: number;
  readonly heap: number;
  readonly renewals: number;
}

export interface Spot {
  readonly at: readonly [number, number, number];
  readonly normal: readonly [number, number, number];
  readonly value: number;
}

export interface MeasureResult {
  readonly body: string;
  readonly readings: Readings;
  readonly thinnest: Spot | null;
  readonly thickest: Spot | null;
  /** Convex edges sharper than 60°, sharpest first. */
  readonly knifeEdges: readonly { readonly edge: string; readonly angle: number; readonly at: readonly [number, number, number] }[];
  readonly brim: number | null;
  readonly fillLevel: number | null;
  readonly ms: number;
}

/** A body as text, from which a new kernel can go on. */
export interface Checkpoint {
  readonly key: string;
  readonly body: string;
  readonly brep: string;
  readonly faces: readonly string[];
  readonly volume: number;
  readonly report: StepReport;
}

export type ExportFormat = 'step' | 'stl' | '3mf' | 'obj';
