/** STEP out, exact surfaces, millimetres. */
import { stepText } from '../../core/exchange/encode';
import { type StyledPart, styledStep } from '../../core/exchange/step-style';
import { fail, ok, type Result } from '../../core/result';
import { attempt, type Kernel, type Shape, scoped } from '../open';

/** Every shape is a product of its own under its title, in its colour; the first one's is the file's, unless it has one. */
export function writeStep(
  kernel: Kernel,
  shapes: readonly (StyledPart & { readonly shape: Shape })[],
  fileTitle = shapes[0]?.title ?? '',
): Result<Uint8Array> {
  const path = '/export.step';
  const made = attempt(kernel, () =>
    scoped((s) => {
      const writer = s.keep(new kernel.STEPControl_Writer());
      const progress = s.keep(new kernel.Message_ProgressRange());
      for (const { shape } of shapes)
        if (writer.Transfer(shape, 'STEPControl_AsIs', true, progress) !== 'IFSelect_RetDone') return undefined;
      if (writer.Write(path) !== 'IFSelect_RetDone') return undefined;
      const bytes = kernel.FS.readFile(path) as Uint8Array;
      kernel.FS.unlink(path);
      return bytes;
    }),
  );
  if (!made.ok) return fail(`the STEP file could not be written: ${made.error}`);
  if (!made.value) return fail('the STEP file could not be written');
  const text = styledStep(new TextDecoder('latin1').decode(made.value), shapes).replace(
    /FILE_NAME\('[^']*'/,
    // By a function: a name may hold what a replacement text has a meaning for.
    () => `FILE_NAME('${stepText(fileTitle)}'`,
  );
  return ok(Uint8Array.from(text, (c) => c.charCodeAt(0) & 255));
}
