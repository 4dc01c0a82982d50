/** A built body in layers, as it lies on a printer's bed. */

import type { TriMesh } from '../core/mesh/mesh';
import { type ClosedRoom, closedRooms, type Layers, layerAt, layersOf } from '../core/print/layers';
import { type Lie, laid } from '../core/print/lie';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody } from '../kernel/body';
import type { Kernel } from '../kernel/open';
import { measuringSkin } from './measure';

export type Lying = Pick<Lie, 'down' | 'turn'>;
export interface BodyLayers extends Layers {
  readonly rooms: readonly ClosedRoom[];
}

const lain = new WeakMap<KernelBody, { readonly key: string; readonly mesh: TriMesh }>();

function lainMesh(kernel: Kernel, body: KernelBody, lying: Lying): TriMesh {
  const key = JSON.stringify(lying);
  const known = lain.get(body);
  if (known?.key === key) return known.mesh;
  const mesh = laid(measuringSkin(kernel, body), lying);
  lain.set(body, { key, mesh });
  return mesh;
}

/** @param tick called between portions; false gives up and the result is null */
export async function bodyLayers(
  kernel: Kernel,
  body: KernelBody,
  lying: Lying,
  layer: number,
  tick: () => Promise<boolean>,
): Promise<Result<BodyLayers> | null> {
  if (body.surface) return fail('it is a skin and has no inside to print');
  const layers = await layersOf(lainMesh(kernel, body, lying), layer, tick);
  return layers && ok({ ...layers, rooms: closedRooms(measuringSkin(kernel, body)) });
}

/** Outlines of one layer, on the bed. */
export type LayerLoops = readonly (readonly (readonly [number, number])[])[];

export const bodyLayer = (kernel: Kernel, body: KernelBody, lying: Lying, layer: number, k: number): LayerLoops =>
  layerAt(lainMesh(kernel, body, lying), layer, k);
