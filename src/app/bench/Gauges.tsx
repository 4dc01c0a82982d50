import { useState } from 'react';
import { type GaugeReading, showReading } from '../../core/brief/gauges';
import { MATERIALS } from '../../core/brief/materials';
import { changeable, type Mover } from '../../core/reach/mover';
import type { Project } from '../../core/recipe/schema';
import { bodyWords, edgeWords } from '../../core/recipe/words';
import { wordsIn } from '../../core/units/units';
import type { MeasureResult } from '../../engine/types';
import { showMark, useBench } from '../state/bench';
import { useJudged } from '../state/judged';
import { VerdictMark } from '../ui/verdict';
import { GaugeMoved, Moves, useMover } from './Moves';
import { Reach, reachable } from './Reach';

/** The brief's targets with reading, margin, verdict and place. */
export function Gauges({ project }: { project: Project }) {
  const measures = useBench((s) => s.measures);
  const measuring = useBench((s) => s.measuring);
  const stale = useBench((s) => s.stale);
  const stopped = useBench((s) => s.stopped);
  const kernel = useBench((s) => s.kernel);
  const { measured, material, gauges } = useJudged(project);
  const mover = useMover(project);
  const old = stale || measuring;
  const state = (): string => {
    if (kernel === 'loading') return 'waiting for the kernel';
    if (kernel === 'failed' || (stopped && !measured)) return 'not measured';
    if (stopped) return 'of an older state';
    if (old) return 'measuring…';
    return measured ? 'against the brief' : '';
  };
  const shown = gauges.filter((g) => g.applies);
  return (
    <section aria-label="Gauges" className="h-full overflow-y-auto bg-panel">
      <div className="flex items-center border-b border-line px-3 py-2">
        <h2 className="heading">Gauges</h2>
        <span className="ml-auto text-ink2" data-testid="gauge-state">
          {state()}
        </span>
      </div>
      {measured && <Moves project={project} body={measured.body} gauges={shown} mover={mover} />}
      <ul className={old ? 'opacity-60' : ''}>
        {shown.map((g) => (
          <Gauge key={g.id} gauge={g} gauges={gauges} project={project} material={material} measured={measured} mover={mover} />
        ))}
      </ul>
      {measures && measures.length > 1 && measured && (
        <p className="px-3 py-2 text-ink2">
          Read off {bodyWords(measured.body, project)}, one of {measures.length} bodies; choose another on the sheet.
        </p>
      )}
    </section>
  );
}

function Gauge({
  gauge,
  gauges,
  project,
  material,
  measured,
  mover,
}: {
  gauge: GaugeReading;
  gauges: readonly GaugeReading[];
  project: Project;
  material: string;
  measured: MeasureResult | null;
  mover: Mover | null;
}) {
  const shown = showReading(gauge.value, gauge.unit, gauge.digits, project.units);
  const [reaching, setReaching] = useState(false);
  const goes = measured !== null && reachable(gauge) && changeable(project).length > 0;
  const wash = gauge.verdict === 'fail' ? 'bg-madderwash' : gauge.verdict === 'warn' ? 'bg-amberwash' : '';
  const ink = gauge.verdict === 'fail' ? 'text-madder' : gauge.verdict === 'warn' ? 'text-amber' : 'text-ink';
  const spots = { 'wall-min': measured?.thinnest, 'wall-max': measured?.thickest, deviation: measured?.offCage };
  const spot = spots[gauge.id as keyof typeof spots] ?? null;
  const knife = gauge.id === 'wall-min' ? measured?.knifeEdges[0] : undefined;
  return (
    <li className={`border-b border-line px-3 py-1.5 ${wash}`} data-testid={`gauge-${gauge.id}`} data-verdict={gauge.verdict}>
      <div className="flex items-baseline justify-between gap-2">
        <span className="font-medium">
          {gauge.label}
          {gauge.id === 'mass' && <span className="text-ink2">, {MATERIALS[material]?.label ?? 'unknown'}</span>}
        </span>
        <span className={`whitespace-nowrap font-mono text-[14px] ${ink}`}>
          {goes ? (
            <button
              type="button"
              className="border-b border-dashed border-line2 hover:border-teal hover:text-teal"
              aria-label={`Bring ${gauge.label} to a value`}
              aria-expanded={reaching}
              title="bring it to a value: finds what a dimension has to be for it"
              onClick={() => setReaching(!reaching)}
            >
              {shown.text}
            </button>
          ) : (
            shown.text
          )}
          <span className="ml-0.5 text-[11px] text-ink2">{shown.unit}</span>
        </span>
      </div>
      {(gauge.min !== null || gauge.max !== null) && gauge.unit !== 'yes/no' && <Margin gauge={gauge} />}
      <div className="flex justify-between text-[12px] text-ink2">
        <span>
          {gauge.target !== '–' && gauge.unit !== 'yes/no' ? gauge.target : ''}
          {spot && (
            <button
              type="button"
              className="link ml-2"
              onClick={() =>
                showMark(
                  spot.at,
                  `${gauge.label} ${spot.value.toFixed(gauge.id === 'deviation' ? 4 : 3)} mm`,
                  gauge.verdict === 'pass' || gauge.verdict === 'unknown' ? 'info' : gauge.verdict,
                )
              }
            >
              show where
            </button>
          )}
        </span>
        {gauge.words !== 'no target' && (
          <span className={gauge.verdict === 'pass' || gauge.verdict === 'unknown' ? '' : `font-semibold ${ink}`}>
            <VerdictMark verdict={gauge.verdict} /> {wordsIn(gauge.words, project.units)}
          </span>
        )}
      </div>
      {measured && gauge.unit !== 'yes/no' && <GaugeMoved gauge={gauge} project={project} body={measured.body} mover={mover} />}
      {reaching && goes && <Reach {...{ gauge, gauges, project, body: measured.body, close: () => setReaching(false) }} />}
      {knife && (
        <button
          type="button"
          className="text-left text-[12px] text-amber hover:underline"
          onClick={() => showMark(knife.at, edgeWords(knife.edge, project), 'warn')}
        >
          ▲ knife edge {knife.angle.toFixed(0)}°: {edgeWords(knife.edge, project)}
        </button>
      )}
    </li>
  );
}

/** Where the reading stands against its limits. */
function Margin({ gauge }: { gauge: GaugeReading }) {
  const { min, max, value } = gauge;
  const lo = min ?? max! * 0.5;
  const hi = max ?? min! * 1.5;
  const span = hi - lo || Math.abs(hi) || 1;
  const from = lo - span * 0.35;
  const to = hi + span * 0.35;
  const place = (v: number): number => Math.min(100, Math.max(0, ((v - from) / (to - from)) * 100));
  return (
    <div aria-hidden className="relative my-1 h-2">
      <div className="absolute inset-x-0 top-1/2 h-px bg-line2" />
      <div
        className="absolute top-0.5 h-1 border border-teal bg-tealwash"
        style={{ left: `${min === null ? 0 : place(min)}%`, right: `${max === null ? 0 : 100 - place(max)}%` }}
      />
      {value !== null && <div className="absolute top-[-2px] h-3 w-0.5 bg-ink" style={{ left: `calc(${place(value)}% - 1px)` }} />}
    </div>
  );
}
