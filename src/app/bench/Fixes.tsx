import { evaluateAs } from '../../core/dimensions/expression';
import { patchStep } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { formatCapacity, formatLength, formatMass, formatVolume } from '../../core/units/units';
import type { Fix } from '../../engine/types';
import type { Alternative } from '../../engine/untried';
import type { Ranging } from '../state/asked';
import { setBench, useBench } from '../state/bench';
import { change, tableOf } from '../state/project';
import { canBeTried, giveUp, tried, tryOut } from '../state/trying';

/** Whether a change was tried: those that work stand first, those that don't are told and can't be taken. */
type Known = Alternative | 'trying' | undefined;
const order = (state: Known): number => (state === undefined || state === 'trying' ? 1 : state.figures ? 0 : 2);

/** Whether a larger value than a change would set is known to work by now: the range of the step offers it. */
function outdone(project: Project, fix: Fix, range: Ranging | undefined): boolean {
  const report = range?.report;
  const asked = report && fix.values?.[report.value];
  if (!report?.most || !asked || fix.kind || fix.inputs || Object.keys(fix.values ?? {}).length > 1) return false;
  const value = evaluateAs(asked, 'length', tableOf(project).scope);
  return value.ok && value.value < report.most;
}

/** Changes that would help: each taken by one click, or tried first, with its figures and the body on the stage. */
export function Fixes({ project, fixes }: { project: Project; fixes: readonly Fix[] }) {
  const known = useBench((s) => s.tried);
  const ranges = useBench((s) => s.ranges);
  const sorted = fixes
    .filter((f) => !outdone(project, f, ranges[f.step]))
    .toSorted((a, b) => order(known[tried(a)]) - order(known[tried(b)]));
  if (sorted.length === 0) return null;
  return (
    <ul className="mt-1 space-y-1">
      {sorted.map((f) => (
        <li key={f.words}>
          {order(known[tried(f)]) === 2 ? (
            <s className="mr-1.5 text-ink3">{f.words}</s>
          ) : (
            <button type="button" className="btn mr-1.5 py-0!" onClick={() => change((p) => patchStep(p, f.step, f))}>
              {f.words}
            </button>
          )}
          <Trying project={project} fix={f} />
        </li>
      ))}
    </ul>
  );
}

function Trying({ project, fix }: { project: Project; fix: Fix }) {
  const key = tried(fix);
  const state = useBench((s) => s.tried[key]);
  const shown = useBench((s) => s.shown === key);
  if (!canBeTried(project, fix)) return null;
  if (state === undefined)
    return (
      <button type="button" className="link text-[12px]" aria-label={`Try first: ${fix.words}`} onClick={() => void tryOut(project, fix)}>
        try first
      </button>
    );
  if (state === 'trying')
    return (
      <span className="text-[12px] text-teal">
        trying…{' '}
        <button type="button" className="link" onClick={() => giveUp(fix)}>
          stop
        </button>
      </span>
    );
  if (!state.figures) return <span className="text-[12px] text-madder">■ {state.why}</span>;
  return (
    <span className="text-[12px] text-ink2" data-testid="tried">
      <Figures figures={state.figures} project={project} />{' '}
      <button type="button" className="link" aria-pressed={shown} onClick={() => setBench({ shown: shown ? null : key })}>
        {shown ? 'back to what is built' : 'show it'}
      </button>
    </span>
  );
}

function Figures({ figures, project }: { figures: NonNullable<Alternative['figures']>; project: Project }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  const { thinnest, thickest, mass, capacity, volume } = figures;
  const parts = [
    thinnest !== null && thickest !== null ? `wall ${length(thinnest)} to ${length(thickest)}` : null,
    mass !== null ? formatMass(mass, project.units) : formatVolume(volume, project.units),
    capacity === null ? 'holds nothing' : `holds ${formatCapacity(capacity, project.units)}`,
  ];
  return <span className="font-mono text-ink">{parts.filter(Boolean).join(' · ')}</span>;
}
