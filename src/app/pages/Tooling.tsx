import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { GaugeReading } from '../../core/brief/gauges';
import { evaluateAs } from '../../core/dimensions/expression';
import type { Vec3 } from '../../core/geometry/vectors';
import { standardAsks } from '../../core/inspect/asks';
import { typicalShrinkage } from '../../core/made/typical';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { fail } from '../../core/result';
import { largestInto, SLENDER, scallop, stepFor } from '../../core/tooling/cutters';
import type { Pull } from '../../core/tooling/pulls';
import type { OutlinePlace } from '../../core/tooling/turning';
import { fixed, formatArea, formatLength, formatVolume, radians } from '../../core/units/units';
import type { BodyReport } from '../../engine/types';
import { angleText } from '../inspect/fields';
import { engine } from '../state/bench';
import { useBuilt } from '../state/built';
import { ask, chooseBody } from '../state/inspecting';
import { tableOf } from '../state/project';
import { download } from '../ui/download';
import { ValueField } from '../ui/ValueField';

/** Ways shown before all are asked for. */
const FEW = 5;
/** A wall that is so many times as thick in one place as in another sinks in, and warps: common practice, no source. */
const UNEVEN = 1.6;

/** A direction in words, as the body stands. */
function wayWords([x, y, z]: Vec3): string {
  const words = [
    ...(Math.abs(z) > 0.3 ? [z > 0 ? 'up' : 'down'] : []),
    ...(Math.abs(y) > 0.3 ? [y > 0 ? 'back' : 'front'] : []),
    ...(Math.abs(x) > 0.3 ? [x > 0 ? 'right' : 'left'] : []),
  ];
  return words.join(' and ');
}
const AXES = ['x', 'y', 'z'] as const;

/** How the body leaves a mould, whichever way it is pulled. */
export function Moulding({ project, body, gauges }: { project: Project; body: BodyReport; gauges: readonly GaugeReading[] }) {
  const go = useNavigate();
  const [limit, setLimit] = useState(radians(1));
  const [all, setAll] = useState(false);
  const found = useBuilt(['pulls', body.id, limit], () => engine.pulls(body.id, limit));
  const pulls = found.data?.ok ? found.data.value : [];
  const { units } = project;
  const check = (t: string) => {
    const r = evaluateAs(t, 'angle', () => undefined);
    return r.ok && !(r.value >= 0 && r.value <= Math.PI / 4) ? fail('a draft lies between 0 and 45°') : r;
  };
  const [thin, thick] = ['wall-min', 'wall-max'].map((id) => gauges.find((g) => g.id === id)?.value ?? null);
  const typical = typicalShrinkage(project.brief.process, project.bodies[body.id]?.material ?? project.brief.material);
  return (
    <section className="mx-auto max-w-[1680px] px-8 pb-8" aria-label="How it leaves the mould">
      <h2 className="mb-1 border-t border-line pt-4 text-[15px] font-semibold">How it leaves the mould</h2>
      <p className="mb-2 text-[12px]">
        <span className="text-ink2">least draft</span>{' '}
        <ValueField
          label="Least draft"
          value={angleText(limit)}
          check={check}
          onCommit={(t) => {
            const r = check(t);
            if (r.ok) setLimit(r.value);
          }}
        />{' '}
        <span className="text-ink2">polished; texture wants more: about a degree for each 0.025 mm of its depth (common practice).</span>
      </p>
      {found.isFetching && <p role="status">pulling it all ways…</p>}
      {found.data && !found.data.ok && <p className="text-madder">■ {found.data.error}</p>}
      {pulls.length > 0 && (
        <div className="overflow-x-auto">
          <table className="border border-line2 bg-panel text-[12px]" data-testid="pulls">
            <thead>
              <tr className="heading border-b border-line text-right">
                <th className="px-2 py-1 text-left">Pulled</th>
                <th className="px-2" title="what neither half clears">
                  Undercut
                </th>
                <th className="px-2" title="pieces it hangs together in: slides, or cores that fold">
                  Slides
                </th>
                <th className="px-2" title={`less than ${angleText(limit)}`}>
                  Too steep
                </th>
                <th className="px-2" title="as it is seen along the pull: the press is chosen by it">
                  Seen area
                </th>
                <th className="px-2">Parting line</th>
                <th className="px-2" title="how far the parting line goes up and down along the pull">
                  Rises
                </th>
                <th aria-label="What can be done with it" />
              </tr>
            </thead>
            <tbody>
              {(all ? pulls : pulls.slice(0, FEW)).map((p) => (
                <PullRow
                  key={p.way.join()}
                  pull={p}
                  units={units}
                  look={() => lookAtDraft(p, body.id, limit, () => void go('../inspect'))}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {pulls.length > FEW && (
        <button type="button" className="link mt-1 text-[12px]" onClick={() => setAll(!all)}>
          {all ? 'only the best' : `all ${pulls.length} that were tried`}
        </button>
      )}
      <div className="mt-2 max-w-[90ch] text-[12px]">
        {thin !== null && thick !== null && thick! > UNEVEN * thin! && (
          <p className="text-amber">
            ▲ Its wall is {formatLength(thin!, units)} at its thinnest and {formatLength(thick!, units)} at its thickest: it cools unevenly,
            sinks in and warps there.
          </p>
        )}
        {typical && (
          <p className="text-ink2">
            {typical.words[0]!.toUpperCase() + typical.words.slice(1)} shrinks by {fixed(100 * typical.from, 1)} to{' '}
            {fixed(100 * typical.to, 1)} % (usual figures): the mould is cut larger. What was measured goes before it:{' '}
            <Link className="link" to="../made">
              Made
            </Link>
            .
          </p>
        )}
        <p className="text-ink2">
          Looked at on facets, from 13 ways. Gates, ejectors and how it fills are the mould maker’s, whose word goes before these figures.
        </p>
      </div>
    </section>
  );
}

/** The draft of a pull along an axis, on the page where it is seen. */
function lookAtDraft(pull: Pull, body: string, limit: number, go: () => void): void {
  const axis = AXES[pull.way.findIndex((v) => Math.abs(v) > 0.99)];
  if (!axis) return;
  chooseBody(body);
  ask({ what: 'draft', axis, sign: 1, parts: 2, limit });
  go();
}

function PullRow({ pull, units, look }: { pull: Pull; units: Project['units']; look: () => void }) {
  const alongAxis = pull.way.some((v) => Math.abs(v) > 0.99);
  return (
    <tr className="border-b border-line text-right last:border-0">
      <td className="px-2 py-1 text-left">
        {wayWords(pull.way)} <span className="text-ink2">and the other way</span>
      </td>
      <td className={`px-2 font-mono ${pull.undercut > 0 ? 'text-amber' : ''}`}>
        {pull.undercut > 0 ? `▲ ${formatArea(pull.undercut, units)}` : 'none'}
      </td>
      <td className="px-2 font-mono">{pull.slides || '–'}</td>
      <td className={`px-2 font-mono ${pull.below > 0.5 ? 'text-amber' : ''}`}>
        {pull.below > 0.5 ? formatArea(pull.below, units) : 'none'}
      </td>
      <td className="px-2 font-mono">{formatArea(pull.projected, units)}</td>
      <td className="px-2 font-mono">{formatLength(pull.parting, units, 0)}</td>
      <td className="px-2 font-mono">{pull.rise < 0.05 ? 'level' : formatLength(pull.rise, units, 1)}</td>
      <td className="px-2 text-left">
        {alongAxis && (
          <button type="button" className="link" onClick={look}>
            see it
          </button>
        )}
      </td>
    </tr>
  );
}

/** From how many sides it is milled, which cutters go in, and the stock it is milled from. */
export function Milling({ project, body }: { project: Project; body: BodyReport }) {
  const { units } = project;
  const { scope } = tableOf(project);
  const [more, setMore] = useState('2 mm');
  const [ball, setBall] = useState('6 mm');
  const [step, setStep] = useState('0.5 mm');
  const sides = useBuilt(['milled', body.id], () => engine.milled(body.id));
  const bends = useBuilt(['inside radius', body.id], () => engine.inspect(project, body.id, standardAsks(null).curvature, () => {}));
  const length = (t: string) => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value >= 0 && r.value <= 1000) ? fail('from nothing to a metre') : r;
  };
  const mm = (t: string): number => {
    const r = length(t);
    return r.ok ? r.value : 0;
  };
  const milled = sides.data?.ok ? sides.data.value : null;
  const inside = bends.data?.what === 'curvature' ? (bends.data.concave[0] ?? null) : null;
  const cutter = inside ? largestInto(inside.radius) : undefined;
  const reach = milled ? Math.max(0, ...milled.sides.map((s) => s.reach)) : 0;
  const slender = cutter ? reach / cutter : 0;
  const size = body.bbox.max.map((v, k) => v - body.bbox.min[k]! + 2 * mm(more));
  const stock = size.reduce((p, v) => p * v, 1);
  const [d, s] = [mm(ball), mm(step)];
  const field = (label: string, value: string, put: (t: string) => void) => (
    <ValueField label={label} value={value} check={length} onCommit={put} />
  );
  return (
    <section className="mx-auto max-w-[1680px] px-8 pb-8" aria-label="How it is milled">
      <h2 className="mb-1 border-t border-line pt-4 text-[15px] font-semibold">How it is milled</h2>
      {(sides.isFetching || bends.isFetching) && <p role="status">looking at it from all sides…</p>}
      {sides.data && !sides.data.ok && <p className="text-madder">■ {sides.data.error}</p>}
      {milled && (
        <div className="grid max-w-[1100px] grid-cols-2 gap-8 max-[820px]:grid-cols-1">
          <div>
            <p className="mb-1" data-testid="milled">
              From {milled.sides.length === 1 ? 'one side' : `${milled.sides.length} sides`}:
            </p>
            <ol className="mb-2 text-[12px]">
              {milled.sides.map((side) => (
                <li key={side.from.join()} className="flex justify-between border-b border-line py-0.5">
                  <span>{wayWords(side.from)}</span>
                  <span className="font-mono">
                    {formatArea(side.area, units)}, {formatLength(side.reach, units, 1)} deep
                  </span>
                </li>
              ))}
            </ol>
            {milled.left > 0 && (
              <p className="text-amber">
                ▲ {formatArea(milled.left, units)} are reached from no side: about {milled.at!.map((v) => fixed(v, 0)).join(', ')} mm.
              </p>
            )}
            {milled.sharp > 0.5 && (
              <p className="text-amber">
                ▲ {formatLength(milled.sharp, units, 0)} of inside edges have no round: a cutter leaves its own radius there, where it does
                not end on a floor.
              </p>
            )}
          </div>
          <div className="text-[13px]">
            <p>
              {inside
                ? `Its least inside round is r ${formatLength(inside.radius, units)}: ${cutter ? `cutters up to ⌀ ${formatLength(cutter, units, 1)} go in` : 'no usual cutter goes in'}.`
                : bends.data
                  ? 'No inside round bounds the cutter.'
                  : ''}
            </p>
            {slender > SLENDER && (
              <p className="text-amber">
                ▲ It would stick out {fixed(slender, 1)} times its diameter; beyond {SLENDER} it bends and chatters (common practice).
              </p>
            )}
            <p className="mt-2">
              A ball of {field('Ball', ball, setBall)} stepping {field('Step', step, setStep)} leaves ridges of{' '}
              <b className="font-mono font-medium" data-testid="scallop">
                {formatLength(scallop(d, s), units, 4)}
              </b>
              ; for 0.01 mm it steps {formatLength(stepFor(d, 0.01), units, 3)}.
            </p>
            <p className="mt-2" data-testid="stock">
              Stock with {field('More on each side', more, setMore)} on each side: {size.map((v) => formatLength(v, units, 1)).join(' × ')},{' '}
              {body.volume ? `${fixed(100 * (1 - body.volume / stock), 0)} % of it goes off` : formatVolume(stock, units)}.
            </p>
          </div>
        </div>
      )}
      <p className="mt-2 max-w-[90ch] text-[12px] text-ink2">
        As a thin straight tool reaches it on facets, from six sides; clamping, tool holders and feeds are the shop’s. Work to the machine’s
        own safety rules.
      </p>
    </section>
  );
}

/** The part on the lathe: whether it is turned at all, its half outline as a drawing, and the tool that follows it. */
export function TurningSeen({ project, body }: { project: Project; body: BodyReport }) {
  const { units } = project;
  const { scope } = tableOf(project);
  const [nose, setNose] = useState('0.4 mm');
  const found = useBuilt(['turning', body.id], () => engine.turning(body.id));
  const told = found.data?.ok ? found.data.value : null;
  const check = (t: string) => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value >= 0 && r.value <= 50) ? fail('a nose is no more than 50 mm') : r;
  };
  const r = check(nose);
  const mm = r.ok ? r.value : 0;
  const at = ({ radius, height }: OutlinePlace): string => `⌀ ${formatLength(2 * radius, units)}, ${formatLength(height, units)} up`;
  return (
    <section className="mx-auto max-w-[1680px] px-8 pb-8" aria-label="How it is turned">
      <h2 className="mb-1 border-t border-line pt-4 text-[15px] font-semibold">How it is turned</h2>
      {found.isFetching && <p role="status">looking at its outline…</p>}
      {found.data && !found.data.ok && <p className="text-madder">■ {found.data.error}</p>}
      {told && 'off' in told && (
        <p className="text-amber">
          ▲{' '}
          {told.off < 0.005
            ? 'It is round about its upright, but not known as turned.'
            : `${fixed(100 * told.off, 0)} % of its skin is not turned about its upright.`}{' '}
          A lathe makes the rest; cross-drilling, flats and free forms are milled after it.
        </p>
      )}
      {told && 'outline' in told && (
        <>
          <p data-testid="turned">
            All of it is turned: {formatLength(told.outline.length, units)} long, ⌀ {formatLength(told.outline.diameter, units)}.
          </p>
          <p className="my-1">
            A tool with a nose of r <ValueField label="Nose of the tool" value={nose} check={check} onCommit={setNose} />{' '}
            {told.outline.tightest === null
              ? 'follows its outline: it bends inwards nowhere.'
              : told.outline.tightest.bend >= mm - 1e-9
                ? `follows its outline: its tightest bend inwards is r ${formatLength(told.outline.tightest.bend, units)}, at ${at(told.outline.tightest.at)}.`
                : ''}
          </p>
          {told.outline.tightest && told.outline.tightest.bend < mm - 1e-9 && (
            <p className="text-amber">
              ▲ It leaves material where the outline bends inwards by r {formatLength(told.outline.tightest.bend, units)}, at{' '}
              {at(told.outline.tightest.at)}.
            </p>
          )}
          {told.outline.corners.length > 0 && mm > 0 && (
            <p className="text-amber">
              ▲ {told.outline.corners.length === 1 ? 'A corner inwards has' : `${told.outline.corners.length} corners inwards have`} no
              round; the nose leaves its own there: {told.outline.corners.slice(0, 4).map(at).join('; ')}
              {told.outline.corners.length > 4 ? ' …' : ''}.
            </p>
          )}
          <button
            type="button"
            className="btn mt-2"
            onClick={() => download(`${slug(project.name, body.name, 'outline')}.dxf`, told.dxf, 'application/dxf')}
          >
            Save its half outline, DXF
          </button>
        </>
      )}
      <p className="mt-2 max-w-[90ch] text-[12px] text-ink2">
        True size, upright, the radius to the right of the axis. Chucking, parting off and overhang are the turner’s; keep hands, sleeves
        and hair from what turns.
      </p>
    </section>
  );
}
