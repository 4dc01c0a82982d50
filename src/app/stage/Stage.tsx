import { useMemo } from 'react';
import type { Project } from '../../core/recipe/schema';
import { formatLength } from '../../core/units/units';
import { VIEWS } from '../actions/actions';
import { useKeys } from '../actions/useKeys';
import { cutOpen, look, type SectionCut, setBench, useBench, useScenes } from '../state/bench';
import { buildAgain, cancelBuild } from '../state/building';
import { Bodies } from './Bodies';
import { Caps } from './Caps';
import { Drawings } from './Drawings';
import { useBoardDrawing, useStepCurves } from './drawnLines';
import { type Extent, overallOf, reaching } from './extent';
import { cagePlaces, FormCage, useStoredCage } from './FormCage';
import { Leaders } from './Leaders';
import { Marker } from './Marker';
import { MeasureLines } from './MeasureLines';
import { PlaceHandles } from './PlaceHandles';
import { Legend, SectionFrame } from './Reading';
import { Rig } from './Rig';
import { Room } from './Room';
import { StepHandles } from './StepHandles';
import { useExtent } from './useExtent';

const PICK_WORDS = {
  faces: 'Pick a face on the body; Shift-drag for all in a frame, Delete takes back.',
  flats: 'Pick a flat face on the body.',
  edges: 'Pick edges on the body; twice for all that go on, Shift-drag for all in a frame, Delete takes back.',
  paths: 'Pick an edge, a drawn line or a curve in space, here or on the board; twice for all that go on.',
  things: 'Pick a face or an edge: the first thing, then the second.',
  spots: 'Pick the end or the middle of an edge, or a place on a face: the first, then the second.',
  places: 'Pick the end or the middle of an edge, or a drawn point, here or on the board.',
} as const;

/** The stage: exact bodies in calm light, with picking, section, leader dimensions and named views. */
export function Stage({ project, reading = false }: { project: Project; reading?: boolean }) {
  const scenes = useScenes();
  const section = useBench((s) => s.section);
  const hover = useBench((s) => s.hover);
  const picking = useBench((s) => s.picking);
  const frame = useBench((s) => s.frame);
  const preview = useBench((s) => s.preview !== null || s.quick !== null);
  const extent = useExtent(scenes);
  // A cage reaches beyond its body.
  const cage = useStoredCage(project);
  const drawing = useBoardDrawing(project);
  const curves = useStepCurves();
  const viewed = useMemo(() => {
    if (reading) return extent;
    const drawn = [...curves, ...(drawing?.lines.filter((l) => !l.construction).map((l) => l.points) ?? [])];
    return reaching(extent, [...(cage ? cagePlaces(cage) : []), ...drawn.flat(2)]);
  }, [extent, cage, reading, drawing, curves]);
  const { bodies } = project;
  const built = useBench((s) => s.result?.bodies);
  const overall = useMemo(() => {
    const seen = scenes.filter((s) => !bodies[s.id]?.hidden);
    return seen.length > 0 ? overallOf(seen, (id) => built?.find((b) => b.id === id)?.bbox) : null;
  }, [scenes, bodies, built]);
  useKeys('stage');

  return (
    <section aria-label="Stage" className="relative h-full overflow-hidden bg-stage">
      <Room>
        <Rig extent={viewed} standing={extent} whole={!reading} />
        <Bodies project={project} extent={extent} reading={reading} />
        {!reading && <FormCage project={project} kept={cage} />}
        {reading && <MeasureLines project={project} />}
        {reading ? <SectionFrame extent={extent} /> : <Drawings {...{ project, extent, drawing, curves }} />}
        {section &&
          scenes.filter((s) => !s.surface && !project.bodies[s.id]?.hidden).map((s) => <Caps key={s.id} scene={s} cut={section} />)}
        {!reading && <StepHandles project={project} />}
        {!reading && <PlaceHandles project={project} />}
        {!section && !preview && !reading && overall && <Leaders overall={overall} units={project.units} />}
        <Marker />
      </Room>
      <Status />
      {reading && <Legend />}
      {hover && (
        <div
          className="pointer-events-none absolute z-20 max-w-72 rounded-xs bg-ink px-2 py-1 text-panel"
          style={{ left: Math.max(4, hover.x + 14), top: hover.y + 14 }}
          data-testid="hover-name"
        >
          {hover.words}
        </div>
      )}
      {frame && (
        <div
          className="pointer-events-none absolute z-20 border border-teal bg-teal/10"
          style={{
            left: Math.min(frame.x0, frame.x1),
            top: Math.min(frame.y0, frame.y1),
            width: Math.abs(frame.x1 - frame.x0),
            height: Math.abs(frame.y1 - frame.y0),
          }}
          data-testid="pick-frame"
        />
      )}
      {picking && (
        <div role="status" className="absolute left-1/2 top-2 z-10 -translate-x-1/2 border border-teal bg-tealwash px-3 py-1">
          {PICK_WORDS[picking.what]} Esc ends it.
        </div>
      )}
      <div className="absolute inset-x-2 bottom-2 z-10 flex flex-col-reverse items-start gap-1.5">
        <div role="toolbar" aria-label="Views" className="flex gap-1 whitespace-nowrap">
          {VIEWS.map(({ view: name, short: words, label }, i) => (
            <button
              key={name}
              type="button"
              className="btn bg-panel! border-transparent! py-0.5!"
              title={`${label} (${i + 1})`}
              onClick={() => look(name)}
            >
              {words}
            </button>
          ))}
          <button
            type="button"
            aria-pressed={section !== null}
            className={section ? 'btn-strong py-0.5!' : 'btn bg-panel! border-transparent! py-0.5!'}
            title="Cut open (C)"
            onClick={cutOpen}
          >
            Cut open
          </button>
        </div>
        {section && <SectionBar cut={section} extent={extent} project={project} />}
      </div>
    </section>
  );
}

function SectionBar({ cut, extent, project }: { cut: SectionCut; extent: Extent; project: Project }) {
  const k = { x: 0, y: 1, z: 2 }[cut.axis];
  const lo = extent.min[k]!;
  const hi = extent.max[k]!;
  const set = (next: Partial<SectionCut>): void => setBench({ section: { ...cut, ...next } });
  return (
    <div
      className="flex w-full max-w-[560px] items-center gap-2 border border-line2 bg-panel px-2 py-1"
      role="group"
      aria-label="Section plane"
    >
      <select
        aria-label="Section direction"
        className="chip"
        value={cut.axis}
        onChange={(e) => {
          const axis = e.target.value as SectionCut['axis'];
          set({ axis, offset: axis === 'z' ? (extent.min[2] + extent.max[2]) / 2 : 0 });
        }}
      >
        <option value="y">along the axis</option>
        <option value="x">along the axis, from the side</option>
        <option value="z">across, at a height</option>
      </select>
      <input
        type="range"
        aria-label="Place of the section plane"
        className="min-w-20 flex-1 accent-teal"
        min={lo + 1e-3}
        max={hi - 1e-3}
        step={(hi - lo) / 400}
        value={cut.offset}
        onChange={(e) => set({ offset: Number(e.target.value) })}
      />
      <span className="w-20 whitespace-nowrap text-right font-mono">{formatLength(cut.offset, project.units)}</span>
    </div>
  );
}

/** The progress line: kernel loading, the running step with cancel, or that an older body is shown. */
function Status() {
  const kernel = useBench((s) => s.kernel);
  const running = useBench((s) => s.running);
  const stale = useBench((s) => s.stale);
  const stopped = useBench((s) => s.stopped);
  const result = useBench((s) => s.result);
  const scenes = useBench((s) => s.scenes);
  const shown = useBench((s) => s.shown);
  const kept = useBench((s) => s.kept);
  const dragged = useBench((s) => s.quick !== null);
  const failed = result?.steps.some((s) => s.state === 'failed' && !s.unfinished);
  let words: string | null = null;
  const before = kept ? 'as it was last built; ' : '';
  if (kernel === 'loading' || kernel === 'idle') words = `${before}loading the kernel…`;
  else if (kernel === 'failed') words = 'The kernel could not be loaded, or stopped. Nothing is lost.';
  else if (dragged && !running) words = 'roughly; exact once it is built';
  else if (running) words = `${before}building step ${running.index + 1}…`;
  else if (stopped) words = scenes.length > 0 ? 'stopped; shows an older state' : 'stopped; nothing is built';
  else if (kept) words = 'as it was last built';
  else if (stale && scenes.length > 0) words = 'shows an older state';
  else if (shown !== null) words = 'shows what was tried; nothing is changed';
  else if (failed) words = 'shows the last good body';
  if (!words) return null;
  const busy = kernel === 'loading' || running !== null;
  return (
    <div role="status" className="absolute right-2 top-2 z-10 flex items-center gap-2 border border-line2 bg-panel px-2 py-0.5 text-ink2">
      {/* Still: an animated dot redraws the whole page sixty times a second beside the kernel, and doubled the wait without a graphics card. */}
      {busy && <span aria-hidden className="h-2 w-2 rounded-full bg-teal" />}
      {words}
      {kernel === 'failed' && (
        <button type="button" className="btn-strong" onClick={buildAgain}>
          Try again
        </button>
      )}
      {running && (
        <button type="button" className="link" onClick={() => void cancelBuild()}>
          cancel
        </button>
      )}
      {stopped && !running && kernel === 'ready' && (
        <button type="button" className="link" onClick={buildAgain}>
          build
        </button>
      )}
      {shown !== null && !running && (
        <button type="button" className="link" onClick={() => setBench({ shown: null })}>
          back
        </button>
      )}
    </div>
  );
}
