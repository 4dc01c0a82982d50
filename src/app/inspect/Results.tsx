import type { Fit } from '../../core/inspect/fit';
import type { Project } from '../../core/recipe/schema';
import { bodyWords, edgeWords, faceWords } from '../../core/recipe/words';
import { degrees, fixed, formatArea, formatCapacity, formatLength } from '../../core/units/units';
import type { Answer } from '../../engine/inspect';
import { showMark, useBench } from '../state/bench';
import { useInspect } from '../state/inspecting';
import { Bars, Chart } from './Chart';
import { JoinTable } from './JoinTable';
import { LabelFigures } from './LabelFigures';
import { Measured } from './Measure';
import { Figure, type Of, Places } from './parts';
import { Sections } from './SectionFigures';
import { Walls } from './WallFigures';

/** Figures, charts and places of an answer. */
export function Results({ project, answer }: { project: Project; answer: Answer }) {
  const faces = useBench((s) => s.scenes.find((b) => b.id === answer.body)?.faceNames);
  const face = (i: number): string => (faces?.[i] ? faceWords(faces[i], project) : 'a face');
  switch (answer.what) {
    case 'walls':
      return <Walls answer={answer} project={project} face={face} />;
    case 'sections':
      return <Sections answer={answer} project={project} />;
    case 'curvature':
      return <Curvature answer={answer} project={project} face={face} />;
    case 'combs':
      return <Combs answer={answer} project={project} face={face} />;
    case 'label':
      return <LabelFigures answer={answer} project={project} face={face} />;
    case 'measure':
      return <Measured project={project} />;
    case 'joins':
      return <JoinTable answer={answer} project={project} />;
    case 'reflection':
      return (
        <p className="text-ink2">
          Drawn from the exact normals of the surfaces, not of the mesh. Stripes that run through an edge without a kink show tangency;
          without a change of their bend, continuous curvature. The numbers stand under “How do its faces meet?”.
        </p>
      );
    case 'draft':
      return <Draft answer={answer} face={face} project={project} />;
    case 'overhang':
      return <Overhang answer={answer} project={project} />;
    case 'deviation':
      return <Deviation answer={answer} project={project} />;
    case 'holds':
      return <Holds answer={answer} project={project} />;
  }
}

function Curvature({ answer, project, face }: { answer: Of<'curvature'>; project: Project; face: (i: number) => string }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  return (
    <>
      {answer.concave[0] ? (
        <Figure label="Tightest inside radius" value={length(answer.concave[0].radius)} />
      ) : (
        <Figure label="Inside radii" value="none" />
      )}
      {answer.convex[0] && <Figure label="Tightest outside radius" value={length(answer.convex[0].radius)} />}
      <Places
        title="Inside radii, tightest first"
        list={answer.concave.slice(0, 8).map((t) => ({ words: face(t.face), value: length(t.radius), at: t.at }))}
      />
      <Places
        title="Outside radii, tightest first"
        list={answer.convex.slice(0, 8).map((t) => ({ words: face(t.face), value: length(t.radius), at: t.at }))}
      />
      <p className="text-[12px] text-ink2">
        Off the exact surfaces. Convex counts as positive. A cutter, or a bead, must be no larger than the tightest inside radius.
      </p>
    </>
  );
}

function Combs({ answer, project, face }: { answer: Of<'combs'>; project: Project; face: (i: number) => string }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  const words = (c: (typeof answer.curves)[0]): string =>
    c.edge !== null ? edgeWords(c.edge, project).replace(/^edge between /, '') : c.face >= 0 ? face(c.face) : 'an outline';
  // Curves of the same name stand together, by the tightest of them.
  const named = new Map<string, { words: string; count: number; inflections: number; tightest: (typeof answer.curves)[0]['tightest'] }>();
  for (const c of answer.curves) {
    const n = named.get(words(c)) ?? { words: words(c), count: 0, inflections: 0, tightest: null };
    const tighter = c.tightest && (!n.tightest || c.tightest.radius < n.tightest.radius);
    named.set(n.words, {
      ...n,
      count: n.count + 1,
      inflections: n.inflections + c.inflections,
      tightest: tighter ? c.tightest : n.tightest,
    });
  }
  const curves = [...named.values()].sort((x, y) => (x.tightest?.radius ?? Infinity) - (y.tightest?.radius ?? Infinity));
  return (
    <>
      <Figure label="Curves" value={answer.curves.length} />
      <Figure label="Changes of side in all" value={answer.curves.reduce((n, c) => n + c.inflections, 0)} />
      <Figure label="A tooth of 10 mm stands for" value={answer.scale > 0 ? `radius ${length(answer.scale / 10)}` : '–'} />
      <Places
        title="Surface lines that pinch into a pole"
        tone="warn"
        list={answer.pinches.slice(0, 8).map((p) => ({ words: `▲ ${face(p.face)}`, value: '', at: p.at }))}
      />
      <section className="my-2" aria-label="Curves, tightest first">
        <h3 className="heading mb-1">Curves, tightest first</h3>
        <ol>
          {curves.slice(0, 30).map((c) => (
            <li key={c.words}>
              <button
                type="button"
                className="flex w-full items-baseline justify-between gap-2 py-0.5 text-left hover:text-teal"
                disabled={!c.tightest}
                onClick={() => c.tightest && showMark(c.tightest.at, `radius ${length(c.tightest.radius)}`)}
              >
                <span className="truncate" title={c.words}>
                  {c.words}
                  {c.count > 1 ? ` (${c.count})` : ''}
                </span>
                <span className="whitespace-nowrap font-mono">
                  {c.tightest ? `R ${length(c.tightest.radius)}` : 'straight'}
                  {c.inflections > 0 ? `, ${c.inflections}×` : ''}
                </span>
              </button>
            </li>
          ))}
        </ol>
      </section>
      <p className="text-[12px] text-ink2">
        Teeth stand square to the curve, away from the centre of its bend, as long as it is curved. A comb that jumps shows a break of
        curvature; “2×” counts how often it changes sides. Off the exact curves and surfaces.
      </p>
    </>
  );
}

function Draft({ answer, face, project }: { answer: Of<'draft'>; face: (i: number) => string; project: Project }) {
  const limit = fixed(degrees(answer.limit), 2);
  const clear = answer.undercutArea < 0.5;
  return (
    <>
      <Figure
        label={`Less draft than ${limit}°`}
        value={answer.below > 0.5 ? `▲ ${formatArea(answer.below, project.units)}` : '● nowhere'}
        tone={answer.below > 0.5 ? 'text-amber' : ''}
      />
      <Figure
        label="Undercut"
        value={clear ? '● none' : `■ ${formatArea(answer.undercutArea, project.units)}`}
        tone={clear ? '' : 'text-madder'}
      />
      {!clear && <Figure label="Side actions or cores" value={answer.sideActions} />}
      <section className="my-2">
        <h3 className="heading mb-1">Faces below the limit</h3>
        {answer.faces.length === 0 && <p className="text-ink2">None.</p>}
        {answer.faces.slice(0, 12).map((f) => (
          <Figure key={f.face} label={face(f.face)} value={`${fixed(degrees(f.least), 2)}°, ${formatArea(f.area, project.units)}`} />
        ))}
      </section>
      <p className="text-[12px] text-ink2">
        Undercuts are what can’t be seen along the pull; they are red. The red line is where a mould would part. Texture wants more draft.
      </p>
    </>
  );
}

function Overhang({ answer, project }: { answer: Of<'overhang'>; project: Project }) {
  const length = (v: number): string => formatLength(v, project.units, 1);
  return (
    <>
      <Figure
        label={`Leans more than ${fixed(degrees(answer.limit), 0)}°`}
        value={answer.area > 0.5 ? `▲ ${formatArea(answer.area, project.units)}` : '● nowhere'}
        tone={answer.area > 0.5 ? 'text-amber' : ''}
      />
      <Figure label="Flat on the bed" value={formatArea(answer.contact, project.units)} />
      <Figure
        label="Begin in the air"
        value={answer.islands.length === 0 ? '● none' : `■ ${answer.islands.length}`}
        tone={answer.islands.length > 0 ? 'text-madder' : ''}
      />
      <Places
        title="Bridges, widest first"
        tone="warn"
        list={answer.bridges
          .slice(0, 8)
          .map((b) => ({ words: `ceiling of ${formatArea(b.area, project.units)}, free span`, value: length(b.span), at: b.at }))}
      />
      <Places
        title="Pieces that begin in the air"
        tone="fail"
        list={answer.islands.map((i) => ({ words: 'at height', value: length(i.height), at: i.at }))}
      />
      <p className="text-[12px] text-ink2">
        Built upwards as it stands. About 45° prints without support as a rule; bridges are kept short.
      </p>
    </>
  );
}

function Deviation({ answer, project }: { answer: Of<'deviation'>; project: Project }) {
  const length = (v: number, digits = 3): string => formatLength(v, project.units, digits);
  const { from, over, under, histogram } = answer;
  if (from === null) return <p className="text-ink2">There is no other body to compare with.</p>;
  return (
    <>
      <Figure label={`Within ${length(answer.tolerance, 2)} of ${bodyWords(from, project)}`} value={`${fixed(100 * answer.within, 1)} %`} />
      <Figure label="Area of that" value={formatArea(answer.touching, project.units)} />
      <Figure label="Root of the mean square" value={length(answer.rms)} />
      <Figure label="Mean" value={length(answer.mean)} />
      <Figure label="Can be compared" value={`${fixed(100 * answer.compared, 1)} %`} />
      <Bars title="Area by distance" from={histogram.from} to={histogram.to} areas={histogram.areas} limit={null} unit="distance, mm" />
      <Places title="Outside it, farthest first" list={over.map((p) => ({ words: 'outside by', value: length(p.value, 2), at: p.at }))} />
      <Places title="Inside it, farthest first" list={under.map((p) => ({ words: 'inside by', value: length(-p.value, 2), at: p.at }))} />
      <p className="text-[12px] text-ink2">
        From the middle of each facet to the nearest place of the other, by area. Where the other ends there is nothing to compare with.
      </p>
    </>
  );
}

function Holds({ answer, project }: { answer: Of<'holds'>; project: Project }) {
  const { vessel } = answer;
  const angle = (rad: number): string => `${fixed(degrees(rad), 1)}°`;
  const wanted = useInspect((s) => (s.ask.what === 'holds' ? s.ask.wanted : null));
  const putIn = useInspect((s) => s.ask.what === 'holds' && s.ask.object !== null);
  return (
    <>
      {vessel ? (
        <>
          <Figure label="To the brim" value={formatCapacity(vessel.toBrim, project.units)} />
          <Figure label="Depth" value={formatLength(vessel.brim - vessel.floor, project.units, 2)} />
          {wanted !== null && (
            <Figure
              label={`For ${fixed(wanted / 1e6, 3)} L`}
              value={vessel.height === null ? '■ more than it holds' : `${formatLength(vessel.height, project.units, 2)} high`}
              tone={vessel.height === null ? 'text-madder' : ''}
            />
          )}
          {wanted !== null && vessel.height !== null && (
            <Figure label="Headspace" value={formatLength(vessel.brim - vessel.floor - vessel.height, project.units, 2)} />
          )}
          <Chart
            title="Capacity by fill height"
            x={{ label: 'capacity, L', from: 0, to: vessel.toBrim / 1e6 }}
            y={{ label: 'height, mm', from: 0, to: vessel.brim - vessel.floor }}
            series={[
              {
                label: 'capacity',
                points: [[0, 0], ...vessel.rows.map((r) => [r.volume / 1e6, r.height] as const)],
                colour: 'teal',
              },
            ]}
            point={wanted === null ? null : vessel.height}
          />
        </>
      ) : (
        <p className="mb-2 text-ink2">It holds nothing: no cavity that opens upwards, or one that leaks.</p>
      )}
      {answer.fit ? (
        <FitFigures fit={answer.fit} project={project} />
      ) : (
        putIn && <p className="mb-2 text-ink2">There is no mouth for it to go through with a floor under it.</p>
      )}
      <Figure label="Foot" value={formatArea(answer.foot, project.units)} />
      <Figure
        label="Tips at, empty"
        value={answer.empty.tipping < 0 ? '■ falls by itself' : angle(answer.empty.tipping)}
        tone={answer.empty.tipping < 0 ? 'text-madder' : ''}
      />
      {answer.full && vessel && <Figure label="Tips at, full of water" value={angle(answer.full.tipping)} />}
      <Figure label="Centre of mass" value={answer.empty.centre.map((c) => fixed(c, 1)).join(', ')} />
      <p className="text-[12px] text-ink2">
        Standing on what touches its lowest level; tipping over the nearest edge of that foot, without sliding.
      </p>
    </>
  );
}

/** Whether what is put in goes in, and how much room it has. */
function FitFigures({ fit, project }: { fit: Fit; project: Project }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  return (
    <div data-testid="fit">
      <Figure label="What is put in" value={fit.passes ? '● goes in' : '■ is held'} tone={fit.passes ? '' : 'text-madder'} />
      <Figure label="Underside over the floor" value={length(fit.rest)} />
      <Figure label={fit.above >= 0 ? 'Stands out over the brim' : 'Lies below the brim'} value={length(Math.abs(fit.above))} />
      {fit.passes ? (
        <button
          type="button"
          className="block w-full text-left hover:text-teal"
          onClick={() => showMark(fit.least.at, `gap ${length(fit.least.gap)}`)}
        >
          <Figure label="Least clearance beside it" value={length(fit.least.gap)} />
        </button>
      ) : (
        <button type="button" className="link mb-1" onClick={() => showMark(fit.least.at, 'held here', 'fail')}>
          show where it is held
        </button>
      )}
    </div>
  );
}
