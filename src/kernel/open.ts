/** Loads the boundary-representation kernel and keeps its objects from leaking. */
import init, { type OpenCascadeInstance, type TopoDS_Shape } from 'replicad-opencascadejs';
import { fail, ok, type Result } from '../core/result';

export type Kernel = OpenCascadeInstance;
export type Shape = TopoDS_Shape;

/**
 * @param wasmUrl where the kernel's binary is served; left out in Node, which finds it beside the script
 */
export async function openKernel(wasmUrl?: string): Promise<Kernel> {
  return init({
    ...(wasmUrl ? { locateFile: () => wasmUrl } : {}),
    print: () => {},
    printErr: () => {},
  });
}

export const heapBytes = (kernel: Kernel): number => kernel.wasmMemory.buffer.byteLength;

/** Anything the kernel made that has to be given back. */
interface Disposable {
  delete(): void;
}

/** Frees what was opened in it, last first. A shape that is returned must be kept by its caller, not by the scope. */
export class Scope {
  private readonly held: Disposable[] = [];

  keep<T extends Disposable>(thing: T): T {
    this.held.push(thing);
    return thing;
  }

  dispose(): void {
    for (let i = this.held.length - 1; i >= 0; i--) {
      try {
        this.held[i]!.delete();
      } catch {
        // Already given back by the kernel itself.
      }
    }
    this.held.length = 0;
  }
}

export function scoped<T>(work: (scope: Scope) => T): T {
  const scope = new Scope();
  try {
    return work(scope);
  } finally {
    scope.dispose();
  }
}

/** Runs kernel calls; an exception of the kernel becomes an error in its own words. Memory faults are passed on. */
export function attempt<T>(kernel: Kernel, work: () => T): Result<T> {
  try {
    return ok(work());
  } catch (e) {
    if (
      typeof WebAssembly !== 'undefined' &&
      'Exception' in WebAssembly &&
      e instanceof (WebAssembly as unknown as { Exception: new () => object }).Exception
    ) {
      let text = 'kernel exception';
      try {
        const [type, message] = kernel.getExceptionMessage(e as never);
        text = message ? `${type}: ${message}` : type;
        kernel.decrementExceptionRefcount(e as never);
      } catch {
        // The exception's text is a courtesy; its loss must not hide the failure itself.
      }
      return fail(text);
    }
    throw e;
  }
}
