import { writeDxf } from '../../core/exchange/dxf';
import { writeSvg } from '../../core/exchange/svg';
import { planeOf, type Station } from '../../core/inspect/sweep';
import type { ResolvedCurve } from '../../core/profile/resolve';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { engine } from '../state/bench';
import { download } from '../ui/download';

/** The outlines of a section as a drawing, 1:1 in millimetres. */
export function SaveSection({ project, body, station }: { project: Project; body: string; station: Station }) {
  const save = async (format: 'svg' | 'dxf'): Promise<void> => {
    const section = await engine.sectionOutlines(body, planeOf(station));
    if (!section) return;
    const curves = section.loops.flatMap((loop, l) =>
      loop.map(([x, y], i): ResolvedCurve => {
        const [p, q] = loop[(i + 1) % loop.length]!;
        return { id: `${l}-${i}`, curve: { kind: 'line', a: { x, y }, b: { x: p, y: q } }, construction: false };
      }),
    );
    const title = `${project.name}, ${bodyWords(body, project)}, section at ${station.place.toFixed(2)} mm`;
    const name = `${slug(project.name, bodyWords(body, project), 'section')}.${format}`;
    const [text, type] = format === 'svg' ? [writeSvg(curves, title), 'image/svg+xml'] : [writeDxf(curves), 'application/dxf'];
    download(name, text, type);
  };
  return (
    <div className="mt-1 flex gap-2">
      <button type="button" className="btn py-0!" onClick={() => void save('svg')}>
        Save as SVG
      </button>
      <button type="button" className="btn py-0!" onClick={() => void save('dxf')}>
        Save as DXF
      </button>
    </div>
  );
}
