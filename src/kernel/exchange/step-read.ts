/**
 * STEP in. Hostile files make the reader hang for good or throw, so this runs only in a worker that is ended afterwards, with a time limit;
 * what comes out is the kernel's own text of verified solids.
 */
import { fail, ok, type Result } from '../../core/result';
import { volumeOf } from '../amounts';
import { attempt, type Kernel, scoped } from '../open';
import { facesOf, solidsOf } from '../shapes';
import { verifySolid } from '../verify';

export const MAX_STEP_BYTES = 20_000_000;
const MAX_SOLIDS = 50;

export interface StepSolid {
  readonly brep: string;
  readonly volume: number;
  readonly faces: number;
}

/**
 * @returns the solids of the file in mm, or one sentence that says why not; a file that breaks the reader itself says so, and the kernel is no use
 * afterwards
 */
export function readStep(kernel: Kernel, bytes: Uint8Array): Result<StepSolid[]> {
  try {
    return readSolids(kernel, bytes);
  } catch (e) {
    if (e instanceof WebAssembly.RuntimeError) return fail('The STEP file breaks its reader: it is damaged.');
    throw e;
  }
}

function readSolids(kernel: Kernel, bytes: Uint8Array): Result<StepSolid[]> {
  if (bytes.length === 0) return fail('The file is empty.');
  if (bytes.length > MAX_STEP_BYTES)
    return fail(`The file is ${(bytes.length / 1e6).toFixed(1)} MB; up to ${MAX_STEP_BYTES / 1e6} MB are read.`);
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 400));
  if (!head.includes('ISO-10303-21')) return fail('This is not a STEP file.');
  const tail = new TextDecoder('latin1').decode(bytes.subarray(-400));
  if (!tail.includes('END-ISO-10303-21')) return fail('The STEP file ends too early: its last line is missing.');
  const path = '/import.step';
  const read = attempt(kernel, () =>
    scoped((s): Result<StepSolid[]> => {
      kernel.FS.writeFile(path, bytes);
      const reader = s.keep(new kernel.STEPControl_Reader());
      const status = reader.ReadFile(path);
      kernel.FS.unlink(path);
      if (status !== 'IFSelect_RetDone') return fail('The STEP file can’t be read: it is damaged or of a kind the reader does not know.');
      if (reader.NbRootsForTransfer() < 1) return fail('The STEP file holds no shapes.');
      reader.TransferRoots(s.keep(new kernel.Message_ProgressRange()));
      if (reader.NbShapes() < 1) return fail('No shape of the STEP file could be understood.');
      const shape = reader.OneShape();
      const solids = solidsOf(kernel, shape);
      if (solids.length === 0) return fail('The STEP file holds surfaces, but no closed solid.');
      if (solids.length > MAX_SOLIDS) return fail(`The STEP file holds ${solids.length} solids; up to ${MAX_SOLIDS} are brought in.`);
      const out: StepSolid[] = [];
      for (const [i, solid] of solids.entries()) {
        kernel.BRepLib.OrientClosedSolid(kernel.TopoDS.Solid(solid));
        const verified = verifySolid(kernel, solid);
        if (!verified.ok) return fail(`Solid ${i + 1} of the STEP file is not sound: ${verified.error.why}.`);
        kernel.BRepTools.Clean(solid, true);
        out.push({
          brep: kernel.BRepToolsWrapper.Write(solid),
          volume: volumeOf(kernel, solid).volume,
          faces: facesOf(kernel, solid).length,
        });
      }
      return ok(out);
    }),
  );
  if (!read.ok) return fail(`The STEP file can’t be read: ${read.error}.`);
  return read.value;
}
