import { useDeferredValue, useEffect, useMemo } from 'react';
import { isOriginPlane, ORIGIN_PLANES } from '../../core/curves/frame';
import { evaluateAs } from '../../core/dimensions/expression';
import { netOf } from '../../core/form/cage';
import { findings } from '../../core/form/doctor';
import { farthest } from '../../core/form/farthest';
import { limitMesh } from '../../core/form/limit';
import type { CageSource } from '../../core/form/read';
import { ringsOf } from '../../core/form/rings';
import { bounds } from '../../core/mesh/mesh';
import type { Project, Step } from '../../core/recipe/schema';
import type { FormInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, type Result } from '../../core/result';
import { useBench } from '../state/bench';
import { changeStep, tableOf } from '../state/project';
import { cageStep, letGo, readCage, stillPicked, useShaping, writeCage } from '../state/shaping';
import { ValueField } from '../ui/ValueField';
import { ringSource } from './begin';
import { CageLayout } from './CageLayout';
import { CagePicks } from './CagePicks';
import { CageStart } from './CageStart';
import { CageSymmetry } from './CageSymmetry';
import { CageVerbs } from './CageVerbs';
import { FormSection } from './FormSection';
import { FormViews } from './FormViews';

/** A cage farther from its table of rings than this is not offered as one, mm. */
const NEARLY_RINGS = 1;
const SIZES = ['width', 'depth', 'height', 'largest diameter'] as const;
type SizeName = (typeof SIZES)[number];

/** The board of a form by a cage: what is picked, what is done to it, its symmetry, its sizes on the smooth body, and what its layout does to the skin. */
export function CagePane({ project, step, inputs, source }: { project: Project; step: Step; inputs: FormInputs; source: CageSource }) {
  const { scope } = tableOf(project);
  const wanted = useShaping((s) => s.picked);
  const planes = useBench((s) => s.result?.planes);
  const plane = isOriginPlane(inputs.plane) ? ORIGIN_PLANES[inputs.plane] : planes?.get(inputs.plane);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is picked belongs to one step
  useEffect(() => letGo, [step.id]);
  const read = readCage(source, project);
  const picked = useMemo(() => (read ? stillPicked(wanted, read.texts) : wanted), [read, wanted]);
  const size = useMemo(() => {
    const net = read && netOf(read.cage);
    if (!net?.ok) return null;
    const { places } = limitMesh(net.value, 3);
    const { min, max } = bounds(places);
    return { width: max[0] - min[0], depth: max[1] - min[1], height: max[2] - min[2], 'largest diameter': 2 * farthest(places) };
  }, [read]);
  // The layout of a large cage takes a while to look through: what was edited is drawn first.
  const later = useDeferredValue(read);
  const panel = inputs.mode === 'surface';
  const found = useMemo(() => (later ? findings(later.cage, panel) : []), [later, panel]);
  const rings = useMemo(() => {
    const r = read && ringsOf(read.cage);
    return r?.ok && r.value.off < NEARLY_RINGS ? r.value : null;
  }, [read]);
  const length = (t: string): Result<number, string> => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value > 0) ? fail('a size is more than nothing') : r;
  };
  const scale = (what: SizeName, to: number): void => {
    const now = cageStep(project, step.id);
    // What has no extent can't be scaled to have one.
    if (!size || !read || !now || !(size[what] > 1e-9)) return;
    const by = to / size[what];
    // What is alike round the axis stays so: across it both ways are scaled.
    const across = what === 'largest diameter' || (read.symmetry.fold > 1 && what !== 'height');
    const ways = across ? [0, 1] : [SIZES.indexOf(what)];
    const vertices = read.texts.vertices.map(
      (p) => p.map((x, i) => (ways.includes(i) ? x * by : x)) as unknown as readonly [number, number, number],
    );
    writeCage(now, { ...read.texts, vertices }, read.symmetry.fold);
  };
  const now = cageStep(project, step.id);
  return (
    <section aria-label="Form" className="flex h-full flex-col bg-panel text-[12px]">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-3 py-1.5">
        <h2 className="heading">Cage of {bodyWords(step.id, project)}</h2>
        <span className="text-ink2" data-testid="cage-counts">
          {read?.cage.vertices.length ?? source.vertices.length} vertices, {read?.cage.faces.length ?? source.faces.length} faces
          {source.creases.length > 0 ? `, ${read?.cage.creases.length ?? source.creases.length} edges creased` : ''}
        </span>
        <FormViews />
        {rings && (
          <button
            type="button"
            className="link"
            title={
              rings.off < 1e-6
                ? 'As a table of heights, radii and twists'
                : `As a table of rings; vertices move by up to ${rings.off.toFixed(3)} mm`
            }
            onClick={() => changeStep(step, { ...step, inputs: { ...inputs, source: ringSource(rings.form) } })}
          >
            edit as rings
          </button>
        )}
        {read && now && <CageSymmetry project={project} found={now} read={read} />}
      </div>
      {!read && (
        <p role="alert" className="px-3 py-1 text-madder">
          ■ The cage can’t be read: the step says why.
        </p>
      )}
      {read && (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(214px,1fr)_minmax(250px,1.35fr)_minmax(200px,1.1fr)] divide-x divide-line">
          <div className="overflow-y-auto px-3 py-2">
            <CagePicks project={project} read={read} picked={picked} />
            <h3 className="heading mb-0.5 mt-2">Section</h3>
            <FormSection cage={read.cage} />
          </div>
          <div className="overflow-y-auto px-3 py-2">
            <CageVerbs project={project} step={step} read={read} picked={picked} plane={plane} />
          </div>
          <div className="overflow-y-auto px-3 py-2">
            {size && (
              <div className="mb-1.5 flex flex-wrap gap-x-2 gap-y-0.5" role="group" aria-label="Sizes of the body">
                {SIZES.map((name) => (
                  <span key={name} className="flex items-center gap-1 whitespace-nowrap">
                    {name === 'largest diameter' ? 'largest ⌀' : name}
                    <ValueField
                      label={`${name} on the body`}
                      value={`${Number(size[name].toFixed(2))} mm`}
                      check={length}
                      onCommit={(t) => {
                        const r = length(t);
                        if (r.ok) scale(name, r.value);
                      }}
                    />
                  </span>
                ))}
              </div>
            )}
            {now && <CageStart project={project} found={now} symmetry={read.symmetry} />}
            <h3 className="heading mb-0.5 mt-1.5">Layout</h3>
            <CageLayout step={step.id} found={found} plane={plane} />
          </div>
        </div>
      )}
    </section>
  );
}
