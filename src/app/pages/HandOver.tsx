import { useState } from 'react';
import { toast } from 'sonner';
import { cautionsFor } from '../../core/brief/cautions';
import { type GaugeReading, readingWords } from '../../core/brief/gauges';
import { MATERIALS } from '../../core/brief/materials';
import { PROCESSES } from '../../core/brief/processes';
import { coverText, type HandedFile, handOverName, sumsText } from '../../core/exchange/handover';
import { growthWords } from '../../core/made/grown';
import { PRINTED } from '../../core/print/printer';
import { writeProject } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { wordsIn } from '../../core/units/units';
import type { BodyReport, ExportFormat } from '../../engine/types';
import { allAnswers, reportPage, today } from '../inspect/makeReport';
import { drawingPdf } from '../shop/save';
import { drawnSheet } from '../shop/useSheet';
import { engine, picture } from '../state/bench';
import { keepState } from '../state/keeping';
import { bodyAmount } from '../ui/amount';
import { download } from '../ui/download';
import { exported } from '../ui/exported';
import { projectFile } from '../ui/saveProject';

/** What goes along, and what each is for. */
const FORMATS: readonly (readonly [ExportFormat, string])[] = [
  ['step', 'exact surfaces, for machining and other modelers'],
  ['3mf', 'facets with names and colours, for printing'],
  ['stl', 'facets, for printing'],
];
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Everything for the maker in one file: exact and faceted bodies, the report, the recipe, the cautions, and sums to check them by. */
export function HandOver({
  project,
  bodies,
  body,
  gauges,
  deviation,
  ready,
}: {
  project: Project;
  /** All that go along. */
  bodies: readonly BodyReport[];
  /** The one the report is of. */
  body: BodyReport;
  gauges: readonly GaugeReading[];
  /** Of facets, mm. */
  deviation: number;
  ready: boolean;
}) {
  const [doing, setDoing] = useState<string | null>(null);
  const gather = async (): Promise<void> => {
    const files: HandedFile[] = [];
    const grown = project.made?.grown;
    const missing: { what: string; why: string }[] = [];
    for (const [format, words] of FORMATS) {
      setDoing(`writing ${format.toUpperCase()}…`);
      const made = await engine.exportBodies(exported(project, bodies), format, deviation, project.name, false);
      if (made.ok)
        files.push({
          name: made.value.name,
          bytes: made.value.bytes,
          words: [
            words,
            ...(format === 'step' ? [] : [`off by at most ${deviation} mm`]),
            ...(grown && PRINTED.includes(format) ? [`${growthWords(grown)} as large, for what it shrinks by`] : []),
          ].join('; '),
        });
      else missing.push({ what: format.toUpperCase(), why: made.error });
    }
    const told = await allAnswers(project, body.id, (share) => setDoing(`measuring all for the report… ${Math.round(100 * share)} %`));
    if (told)
      files.push({
        name: 'inspection.html',
        bytes: utf8(reportPage(project, body.id, told, picture.take?.() ?? null)),
        words: `all that is measured of ${body.name}`,
      });
    else missing.push({ what: 'the inspection', why: 'it was stopped, or the body changed meanwhile' });
    if (project.shop) {
      setDoing('drawing…');
      const sheet = await drawnSheet(project);
      if (sheet.ok) {
        const { bytes, missing: letters } = await drawingPdf(project, sheet.value);
        files.push({ name: 'drawing.pdf', bytes, words: `the working drawing, ${sheet.value.scale}` });
        if (letters) missing.push({ what: `letters ${letters} on the drawing`, why: 'its font has none of them' });
      } else missing.push({ what: 'the drawing', why: sheet.error });
    }
    files.push({ name: projectFile(project), bytes: utf8(writeProject(project)), words: 'the recipe, which opens in the program again' });
    setDoing('packing…');
    // Browsers reckon sums on secure pages only.
    const reckons = globalThis.crypto?.subtle !== undefined;
    if (!reckons) missing.push({ what: 'SHA256SUMS.txt', why: 'the page is not served securely' });
    const cover = coverText({
      project: project.name,
      client: project.client,
      date: today(),
      purpose: project.brief.purpose,
      process: PROCESSES[project.brief.process].by,
      material: MATERIALS[project.brief.material]?.label ?? project.brief.material,
      bodies: bodies.map((b) => ({ name: b.name, words: bodyAmount(b, project.units) })),
      targets: gauges.map((g) => ({
        label: g.label,
        target: g.target,
        reading: readingWords(g.value, g, project.units),
        verdict: wordsIn(g.words, project.units),
      })),
      files,
      missing,
      cautions: cautionsFor(project.brief),
    });
    const all = [{ name: 'READ-ME-FIRST.txt', bytes: utf8(cover), words: '' }, ...files];
    const packed = await engine.pack(reckons ? [...all, { name: 'SHA256SUMS.txt', bytes: utf8(await sumsText(all)) }] : all);
    if (!packed.ok) return void toast.error('Not saved', { description: packed.error });
    download(handOverName(project.name), packed.value, 'application/zip');
    keepState(handOverName(project.name), 'export', gauges);
    toast.success(`${handOverName(project.name)} saved`, {
      description: `${files.length} files${missing.length > 0 ? `; not in it: ${missing.map((m) => m.what).join(', ')}` : ''}`,
    });
  };
  return (
    <>
      <h2 className="mb-1 mt-8 text-[15px] font-semibold">All of it, for the maker</h2>
      <p className="mb-2 text-ink2">
        {bodies.length > 1 ? `All ${bodies.length} bodies` : body.name} as STEP, 3MF and STL, the inspection, the recipe, a page with
        verdicts and cautions, and sums to check them by, in one file.
      </p>
      <button type="button" className="btn" disabled={!ready || doing !== null} onClick={() => void gather().finally(() => setDoing(null))}>
        {doing ?? 'Hand all of it over'}
      </button>
    </>
  );
}
