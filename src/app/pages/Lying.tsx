import { useState } from 'react';
import type { GaugeReading } from '../../core/brief/gauges';
import { materialOf } from '../../core/brief/judge';
import { MATERIALS } from '../../core/brief/materials';
import { evaluateAs } from '../../core/dimensions/expression';
import { type Lie, SHAKY, sameWay, sorted, type Weights } from '../../core/print/lie';
import { gramsOf, linesOf, PER_LAYER, type Printer, SPARSE, secondsOf } from '../../core/print/printer';
import type { Project } from '../../core/recipe/schema';
import { faceWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { timeWords } from '../../core/units/time';
import { degrees, formatArea, formatLength, formatMass, formatVolume } from '../../core/units/units';
import type { BodyReport } from '../../engine/types';
import { useLies } from '../state/built';
import { setPrinter, setWeight, usePrinter } from '../state/printer';
import { change } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { LayersSeen } from './LayersSeen';

/** Ways shown before all are asked for. */
const FEW = 6;

const WEIGHTS: readonly (readonly [keyof Weights, string])[] = [
  ['support', 'little support'],
  ['steep', 'few steep undersides'],
  ['height', 'low'],
  ['contact', 'a large foot'],
];

/** Which side of it is down, as it stands on the stage. */
function sideWords([x, y, z]: Lie['down']): string {
  const words = [
    [-z, 'as it stands'],
    [z, 'upside down'],
    [-x, 'left side down'],
    [x, 'right side down'],
    [-y, 'front down'],
    [y, 'back down'],
  ] as const;
  const [share, side] = words.reduce((a, b) => (b[0] > a[0] ? b : a));
  return share > 0.999 ? side : `${side}, aslant`;
}

/** How a body lies on the printer's bed: the ways there are, compared; the one that is taken goes into the files that are printed from. */
export function Lying({ project, body, gauges }: { project: Project; body: BodyReport; gauges: readonly GaugeReading[] }) {
  const { printer, weights } = usePrinter();
  const [all, setAll] = useState(false);
  const ways = useLies(body.id, printer);
  const found = ways.data?.ok ? sorted(ways.data.value, weights) : [];
  const list = all ? found : found.slice(0, FEW);
  const lie = project.bodies[body.id]?.lie;
  const put = (way: Pick<Lie, 'down' | 'turn'> | undefined): void =>
    change((p) => {
      const { lie: _, ...rest } = p.bodies[body.id] ?? { name: body.name };
      return { ...p, bodies: { ...p.bodies, [body.id]: way ? { ...rest, lie: { down: way.down, turn: way.turn } } : rest } };
    });
  const volume = body.volume ?? 0;
  const density = MATERIALS[materialOf(project, body.id)]?.density ?? null;
  const units = project.units;
  return (
    <section className="mx-auto max-w-[1680px] px-8 pb-8" aria-label="How it lies on the bed">
      <h2 className="mb-1 border-t border-line pt-4 text-[15px] font-semibold">How it lies on the bed</h2>
      <PrinterFields printer={printer} />
      <WallLines gauges={gauges} printer={printer} />
      <div className="mb-2 flex flex-wrap items-center gap-x-4 text-[12px]">
        <span className="text-ink2">what counts:</span>
        {WEIGHTS.map(([name, words]) => (
          <label key={name} className="flex items-center gap-1.5">
            {words}
            <input
              type="range"
              className="w-20 accent-teal"
              min={0}
              max={4}
              step={1}
              value={weights[name]}
              aria-label={`How much ${words} counts`}
              onChange={(e) => setWeight(name, Number(e.target.value))}
            />
          </label>
        ))}
      </div>
      {ways.isFetching && <p role="status">turning it over…</p>}
      {ways.data && !ways.data.ok && <p className="text-madder">■ {ways.data.error}</p>}
      {found.length > 0 && (
        <div className="overflow-x-auto">
          <table className="border border-line2 bg-panel text-[12px]" data-testid="lies">
            <thead>
              <tr className="heading border-b border-line text-right">
                <th className="px-2 py-1 text-left">Way</th>
                <th className="px-2" title="on the bed">
                  Foot
                </th>
                <th className="px-2" title="beneath what leans too much, straight down to what lies under it">
                  Support
                </th>
                <th className="px-2" title={`leans more than ${Math.round(degrees(printer.overhang))}° and is not bridged`}>
                  Steep
                </th>
                <th className="px-2" title={`ceilings held on both sides, at most ${printer.bridge} mm across`}>
                  Bridged
                </th>
                <th className="px-2">High</th>
                <th className="px-2" title="the lean at which it falls over">
                  Stands to
                </th>
                <th className="px-2">Layers</th>
                <th
                  className="px-2"
                  title={`its lines at ${printer.speed} mm/s and ${PER_LAYER} s a layer; support at ${100 * SPARSE} % of solid`}
                >
                  Time
                </th>
                {density !== null && <th className="px-2">Material</th>}
                <th aria-label="What can be done with it" />
              </tr>
            </thead>
            <tbody>
              {list.map((l) => {
                const taken = lie !== undefined && sameWay(lie.down, l.down);
                const shaky = l.tipping < SHAKY;
                return (
                  <tr key={l.down.join()} className={`border-b border-line text-right last:border-0 ${taken ? 'bg-tealwash' : ''}`}>
                    <td className="px-2 py-1 text-left">
                      {l.on === null ? 'on an edge' : `on ${faceWords(l.on, project)}`}{' '}
                      <span className="text-ink2">{sideWords(l.down)}</span>
                      {!l.fits && <span className="text-madder"> ■ beyond the bed</span>}
                      {l.fits && l.turn > 0 && <span className="text-ink2"> turned by {Math.round(degrees(l.turn))}°</span>}
                    </td>
                    <td className="px-2 font-mono">{formatArea(l.contact, units)}</td>
                    <td className="px-2 font-mono">{l.support < 0.5 ? 'none' : formatVolume(l.support, units)}</td>
                    <td className="px-2 font-mono">{l.steep < 0.5 ? 'none' : formatArea(l.steep, units)}</td>
                    <td className="px-2 font-mono">{l.bridged < 0.5 ? '–' : formatArea(l.bridged, units)}</td>
                    <td className="px-2 font-mono">{formatLength(l.size[2], units)}</td>
                    <td className={`px-2 font-mono ${shaky ? 'text-amber' : ''}`}>
                      {shaky ? '▲ falls' : `${Math.round(degrees(l.tipping))}°`}
                    </td>
                    <td className="px-2 font-mono">{l.layers}</td>
                    <td className="px-2 font-mono">{timeWords(secondsOf(printer, volume, l.support, l.layers))}</td>
                    {density !== null && (
                      <td className="px-2 font-mono">{formatMass(gramsOf(printer, volume, l.support, density), units)}</td>
                    )}
                    <td className="px-2 text-left">
                      {taken ? (
                        <button type="button" className="link" onClick={() => put(undefined)}>
                          as it is drawn
                        </button>
                      ) : (
                        <button type="button" className="link" onClick={() => put(l)}>
                          lay it so
                        </button>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
      {found.length > FEW && (
        <button type="button" className="link mt-1 text-[12px]" onClick={() => setAll(!all)}>
          {all ? 'only the best' : `all ${found.length} that were tried`}
        </button>
      )}
      <p className="mt-1 max-w-[90ch] text-[12px] text-ink2">
        {lie
          ? 'STL and 3MF of this body by itself lie so, on the bed, about its middle; STEP and several bodies in one frame stay as they are drawn.'
          : ''}{' '}
        Support is counted straight down, on columns: to a hundredth. Time and material are as if solid, by the line’s width, layer and
        speed{printer.pace !== 1 || printer.fill !== 1 ? ', and by what logged prints took' : ''}; a slicer’s own figures go before them.
      </p>
      <LayersSeen project={project} body={body} printer={printer} />
    </section>
  );
}

function PrinterFields({ printer }: { printer: Printer }) {
  const field = (
    label: string,
    words: string,
    now: string,
    kind: 'length' | 'angle' | 'number',
    put: (v: number) => void,
    most: number,
  ) => (
    <span key={label} className="flex items-baseline gap-1">
      {words}
      <ValueField
        label={label}
        value={now}
        check={(t) => {
          const r = evaluateAs(t, kind, () => undefined);
          return !r.ok ? r : r.value > 0 && r.value <= most ? ok(r.value) : fail('it is more than nothing, and no more than a printer has');
        }}
        onCommit={(t) => {
          const r = evaluateAs(t, kind, () => undefined);
          if (r.ok) put(r.value);
        }}
      />
    </span>
  );
  const [x, y, z] = printer.bed;
  return (
    <div className="mb-1 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[12px]">
      <span className="text-ink2">printer:</span>
      {field('Bed across', 'bed', `${x} mm`, 'length', (v) => setPrinter({ bed: [v, y, z] }), 5000)}
      {field('Bed away', '×', `${y} mm`, 'length', (v) => setPrinter({ bed: [x, v, z] }), 5000)}
      {field('Bed high', '×', `${z} mm`, 'length', (v) => setPrinter({ bed: [x, y, v] }), 5000)}
      {field('Line', 'line', `${printer.line} mm`, 'length', (line) => setPrinter({ line }), 20)}
      {field('Layer', 'layer', `${printer.layer} mm`, 'length', (layer) => setPrinter({ layer }), 20)}
      {field(
        'Leans',
        'leans up to',
        `${Number(degrees(printer.overhang).toFixed(2))}°`,
        'angle',
        (overhang) => setPrinter({ overhang }),
        Math.PI / 2,
      )}
      {field('Bridges', 'bridges', `${printer.bridge} mm`, 'length', (bridge) => setPrinter({ bridge }), 500)}
      {field('Speed', 'mm/s', `${printer.speed}`, 'number', (speed) => setPrinter({ speed }), 2000)}
    </div>
  );
}

/** The thinnest wall in lines. */
function WallLines({ gauges, printer }: { gauges: readonly GaugeReading[]; printer: Printer }) {
  const wall = gauges.find((g) => g.id === 'wall-min')?.value ?? null;
  if (wall === null || wall > 12 * printer.line) return null;
  const { exact, whole, width } = linesOf(wall, printer.line);
  const even = Math.abs(exact - whole) < 0.02;
  return (
    <p className="mb-1 text-[12px]" data-testid="wall-lines">
      The thinnest wall, {wall.toFixed(2)} mm, is {even ? `${whole} lines` : `${exact.toFixed(1)} lines`} of {printer.line} mm
      {even ? '.' : `; ${whole} of ${width.toFixed(3)} mm fill it.`}
    </p>
  );
}
