/** The drawing's files, with the fonts the app ships. */

import plainLatin from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-500-normal.woff?url';
import boldLatin from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-600-normal.woff?url';
import plainExt from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-ext-500-normal.woff?url';
import boldExt from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-ext-600-normal.woff?url';
import { toast } from 'sonner';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import type { Sheet } from '../../core/shop/sheet';
import { download } from '../ui/download';

const fetched = async (url: string): Promise<Uint8Array> => new Uint8Array(await (await fetch(url)).arrayBuffer());

const titleOf = (project: Project): string => `${project.name}, drawing`;

/** The sheet as PDF. */
export async function drawingPdf(project: Project, sheet: Sheet): Promise<{ readonly bytes: Uint8Array; readonly missing: string }> {
  const { sheetPdf } = await import('../../core/shop/pdf');
  const all = (urls: readonly string[]): Promise<Uint8Array[]> => Promise.all(urls.map(fetched));
  return sheetPdf(sheet, titleOf(project), { plain: await all([plainLatin, plainExt]), bold: await all([boldLatin, boldExt]) });
}

export async function saveDrawing(project: Project, sheet: Sheet, format: 'pdf' | 'svg' | 'dxf'): Promise<void> {
  const name = `${slug(project.name, 'drawing')}.${format}`;
  if (format === 'pdf') {
    const { bytes, missing } = await drawingPdf(project, sheet);
    download(name, bytes, 'application/pdf');
    if (missing)
      toast.warning(`${name} saved`, { description: `Its font has no ${[...missing].join(' ')}: a question mark stands for it.` });
    else toast.success(`${name} saved`);
    return;
  }
  const { sheetDxf, sheetSvg } = await import('../../core/shop/write');
  if (format === 'svg') download(name, sheetSvg(sheet, titleOf(project)), 'image/svg+xml');
  else download(name, sheetDxf(sheet), 'application/dxf');
  toast.success(`${name} saved`, { description: '1:1 in millimetres of paper' });
}
