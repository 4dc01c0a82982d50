import { useState } from 'react';
import { layerSeconds } from '../../core/print/layers';
import { DRAWN_DOWN } from '../../core/print/lie';
import type { Printer } from '../../core/print/printer';
import type { Project } from '../../core/recipe/schema';
import { timeWords } from '../../core/units/time';
import { formatArea, formatLength, formatVolume } from '../../core/units/units';
import type { BodyLayers, LayerLoops, Lying } from '../../engine/layers';
import type { BodyReport } from '../../engine/types';
import { engine } from '../state/bench';
import { useBuilt } from '../state/built';

/** As it is drawn, where no other way was taken. */
const AS_DRAWN: Lying = { down: DRAWN_DOWN, turn: 0 };
/** The picture of a layer, and the curve of their areas, in pixels. */
const [PICTURE, CURVE] = [280, { width: 420, height: 84 }] as const;
/** Islands that are listed before all are asked for. */
const FEW = 5;

/** A body layer by layer as it lies: the picture of each with its area, what begins in the air, and rooms that nothing gets out of. */
export function LayersSeen({ project, body, printer }: { project: Project; body: BodyReport; printer: Printer }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-4 border-t border-line pt-2" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-[15px] font-semibold">Layer by layer</summary>
      {open && <Opened project={project} body={body} printer={printer} />}
    </details>
  );
}

function Opened({ project, body, printer }: { project: Project; body: BodyReport; printer: Printer }) {
  const [wanted, setWanted] = useState(0);
  const taken = project.bodies[body.id]?.lie;
  const lying: Lying = taken ? { down: taken.down, turn: taken.turn } : AS_DRAWN;
  const all = useBuilt(['layers', body.id, lying, printer.layer], () => engine.layers(body.id, lying, printer.layer));
  const layers = all.data?.ok ? all.data.value : null;
  const k = Math.min(wanted, (layers?.areas.length ?? 1) - 1);
  const one = useBuilt(['layer', body.id, lying, printer.layer, k], () => engine.layer(body.id, lying, printer.layer, k), {
    when: layers !== null,
    keeps: true,
  });
  if (all.data && !all.data.ok) return <p className="text-madder">■ {all.data.error}</p>;
  if (!layers) return <p role="status">cutting it into layers…</p>;
  const { units } = project;
  const loops = one.data?.ok ? one.data.value : [];
  const before = layers.areas.slice(0, k + 1).reduce((s, a) => s + layerSeconds(printer, a), 0);
  const whole = layers.areas.reduce((s, a) => s + layerSeconds(printer, a), 0);
  return (
    <div className="mt-2 flex flex-wrap gap-6">
      <LayerPicture layers={layers} loops={loops} k={k} />
      <div className="min-w-0 max-w-[460px] flex-1">
        <AreaCurve layers={layers} k={k} />
        <input
          type="range"
          className="w-full max-w-[420px] accent-teal"
          aria-label="Layer that is shown"
          min={0}
          max={layers.areas.length - 1}
          value={k}
          onChange={(e) => setWanted(Number(e.target.value))}
        />
        <p className="font-mono text-[12px]" data-testid="layer">
          layer {k + 1} of {layers.areas.length} · {formatLength((k + 0.5) * printer.layer, units)} · {formatArea(layers.areas[k]!, units)}{' '}
          · {layerSeconds(printer, layers.areas[k]!).toFixed(0)} s
        </p>
        <p className="mb-2 text-[12px] text-ink2">
          {timeWords(before)} of {timeWords(whole)} by then, as if solid, without support.
        </p>
        <Islands layers={layers} printer={printer} units={units} go={setWanted} />
        {layers.rooms.map((r) => (
          <p key={r.at.join()} className="text-amber">
            ▲ A closed room of {formatVolume(r.volume, units)}: resin and powder stay in it, and support can’t be taken out. Bore a hole
            into it where it is lowest, and one to let air in.
          </p>
        ))}
        {layers.rooms.length === 0 && <p className="text-[12px] text-ink2">No room in it is closed.</p>}
      </div>
    </div>
  );
}

function Islands({
  layers,
  printer,
  units,
  go,
}: {
  layers: BodyLayers;
  printer: Printer;
  units: Project['units'];
  go: (layer: number) => void;
}) {
  const [every, setEvery] = useState(false);
  const { islands } = layers;
  if (islands.length === 0) return <p className="text-[12px] text-ink2">Nothing begins in the air.</p>;
  return (
    <div className="mb-1">
      <p className="text-amber">
        ▲ {islands.length === 1 ? 'One piece begins' : `${islands.length} pieces begin`} in the air and must be held up:
      </p>
      <ul className="text-[12px]">
        {(every ? islands : islands.slice(0, FEW)).map((i) => (
          <li key={`${i.layer} ${i.at.join()}`}>
            <button type="button" className="link" onClick={() => go(i.layer)}>
              layer {i.layer + 1}
            </button>
            , at {formatLength(i.layer * printer.layer, units)}, {formatArea(i.area, units)}
          </li>
        ))}
      </ul>
      {islands.length > FEW && (
        <button type="button" className="link text-[12px]" onClick={() => setEvery(!every)}>
          {every ? 'fewer' : `all ${islands.length}`}
        </button>
      )}
    </div>
  );
}

function LayerPicture({ layers, loops, k }: { layers: BodyLayers; loops: LayerLoops; k: number }) {
  const [x0, x1, y0, y1] = layers.box;
  const room = 0.04 * Math.max(x1 - x0, y1 - y0);
  const [w, h] = [x1 - x0 + 2 * room, y1 - y0 + 2 * room];
  const path = loops.map((l) => `M${l.map(([x, y]) => `${x.toFixed(3)} ${(-y).toFixed(3)}`).join('L')}Z`).join('');
  const begun = layers.islands.filter((i) => i.layer === k);
  return (
    <svg
      role="img"
      aria-label={`Layer ${k + 1}`}
      className="border border-line2 bg-stage"
      width={PICTURE}
      height={PICTURE}
      viewBox={`${x0 - room} ${-y1 - room} ${w} ${h}`}
      data-testid="layer-picture"
    >
      <path d={path} className="fill-teal stroke-ink" fillRule="evenodd" vectorEffect="non-scaling-stroke" strokeWidth={1} />
      {begun.map((i) => (
        <circle
          key={i.at.join()}
          cx={i.at[0]}
          cy={-i.at[1]}
          r={0.03 * Math.max(w, h)}
          className="fill-none stroke-amber"
          vectorEffect="non-scaling-stroke"
          strokeWidth={2}
        />
      ))}
    </svg>
  );
}

/** Areas of all layers from the bed up, with the one that is looked at and those on which something begins. */
function AreaCurve({ layers, k }: { layers: BodyLayers; k: number }) {
  const { areas, islands } = layers;
  const most = areas.reduce((m, a) => Math.max(m, a), 1e-9);
  const { width, height } = CURVE;
  const x = (i: number): number => (areas.length < 2 ? 0 : (i / (areas.length - 1)) * width);
  const y = (a: number): number => height - 2 - (a / most) * (height - 6);
  // No more places than there are pixels.
  const every = Math.max(1, Math.floor(areas.length / width));
  const line = areas
    .flatMap((a, i) => (i % every === 0 || i === areas.length - 1 ? [`${x(i).toFixed(1)} ${y(a).toFixed(1)}`] : []))
    .join('L');
  return (
    <svg role="img" aria-label="Area of each layer" width={width} height={height} viewBox={`0 0 ${width} ${height}`} className="max-w-full">
      <path d={`M0 ${height}L${line}L${width} ${height}Z`} className="fill-tealwash stroke-teal" strokeWidth={1} />
      {islands.map((i) => (
        <path key={`${i.layer} ${i.at.join()}`} d={`M${x(i.layer)} 0V6`} className="stroke-amber" strokeWidth={2} />
      ))}
      <path d={`M${x(k)} 0V${height}`} className="stroke-ink" strokeWidth={1} />
    </svg>
  );
}
