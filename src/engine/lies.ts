/** Ways a built body can lie on a printer's bed, the face it lies on by its name. */
import { type Lie, lies } from '../core/print/lie';
import type { Printer } from '../core/print/printer';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody } from '../kernel/body';
import type { Kernel } from '../kernel/open';
import { measuringSkin } from './measure';

export interface NamedLie extends Lie {
  /** Of the face that most of it lies on; null where it lies on an edge or a point. */
  readonly on: string | null;
}

/** In words for what has no inside to print. */
export async function namedLies(kernel: Kernel, body: KernelBody, printer: Printer): Promise<Result<NamedLie[]>> {
  if (body.surface) return fail('it is a skin and has no inside to print: close it, or give it a wall');
  const all = await lies(measuringSkin(kernel, body), printer);
  return ok((all ?? []).map((l) => ({ ...l, on: l.face === null ? null : (body.faces[l.face] ?? null) })));
}
