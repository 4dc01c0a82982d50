import { toast } from 'sonner';
import { judgedBody } from '../../core/brief/judge';
import type { Made } from '../../core/made/document';
import { measuringPage, placesDrawn, placesSheet } from '../../core/made/sheet';
import type { PlaceRow } from '../../core/made/table';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import type { DrawnView } from '../../core/shop/sheet';
import type { ViewSide } from '../../core/shop/views';
import { sheetSvg } from '../../core/shop/write';
import { engine, useBench } from '../state/bench';
import { download } from '../ui/download';
import type { MadeModel } from './useMade';

/** Draws the body with the places numbered, and saves it with a table to write into, as a page to print. */
export async function saveMeasuringSheet(project: Project, made: Made, rows: readonly PlaceRow[], known: MadeModel): Promise<void> {
  const { result, gaugeBody } = useBench.getState();
  const body = judgedBody(project, result?.bodies ?? [], (b) => b.id, gaugeBody);
  if (!body) return;
  const places = placesDrawn(rows, (id) => {
    const m = known.model.measured(id);
    return m && !('why' in m) ? m : undefined;
  });
  const drawn = new Map<ViewSide, DrawnView>();
  for (const side of places.sides) {
    const view = await engine.drawView([body.id], { side, cut: null });
    if (!view.ok) return void toast.error('The sheet was not made', { description: view.error });
    drawn.set(side, view.value);
  }
  const sheet = placesSheet(project, places, drawn, new Date().toISOString().slice(0, 10));
  const file = `${slug(project.name, 'measuring')}.html`;
  const pieces = made.batches.at(-1)?.pieces.map((p) => p.name) ?? [];
  download(file, measuringPage(project, made, rows, sheetSvg(sheet, project.name), pieces), 'text/html');
  toast.success(`${file} saved`, { description: 'Open it and print it: a drawing, and a table to write into.' });
}
