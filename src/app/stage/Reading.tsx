import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { type Ask, AXES } from '../../core/inspect/asks';
import { coloursOf, viridis } from '../../core/inspect/colour';
import { frameOfPlane } from '../../core/inspect/sweep';
import type { Overlay, Stroke } from '../../engine/inspect';
import { useInspect } from '../state/inspecting';
import { mirrorMaterial } from './mirror';

const TONES = { good: '#0a6a66', watch: '#c98a1b', bad: '#a1263a', plain: '#2b3236' } as const;

/** The colours of a reading over the body, with the lines that belong to it. */
export function Reading({ clipping }: { clipping: THREE.Plane[] }) {
  const asked = useInspect((s) => s.ask);
  const answer = useInspect((s) => s.answer);
  const overlay = answer?.overlay ?? null;
  const { invalidate } = useThree();
  useEffect(() => {
    if (answer || !answer) invalidate();
  }, [answer, invalidate]);
  return (
    <>
      {overlay &&
        (overlay.normals ? (
          asked.what === 'reflection' && <Mirror overlay={overlay} normals={overlay.normals} asked={asked} clipping={clipping} />
        ) : (
          <Skin overlay={overlay} clipping={clipping} />
        ))}
      {answer && <Strokes strokes={answer.strokes} through={answer.what === 'combs'} />}
    </>
  );
}

/** Lines of one look are drawn as one. @param through seen also where the body stands before them */
function Strokes({ strokes, through }: { strokes: readonly Stroke[]; through: boolean }) {
  const merged = useMemo(() => {
    const kinds = new Map<string, Stroke[]>();
    for (const s of strokes) {
      const key = `${s.tone} ${s.width}`;
      kinds.set(key, [...(kinds.get(key) ?? []), s]);
    }
    return [...kinds].map(([key, list]) => {
      const points = new Float32Array(list.reduce((n, s) => n + s.points.length, 0));
      let at = 0;
      for (const s of list) {
        points.set(s.points, at);
        at += s.points.length;
      }
      return { key, points, tone: list[0]!.tone, width: list[0]!.width };
    });
  }, [strokes]);
  return merged.map((m) =>
    m.points.length > 0 ? <Segments key={m.key} lines={m.points} colour={TONES[m.tone]} width={m.width} through={through} /> : null,
  );
}

const LINEAR = Float32Array.from({ length: 256 }, (_, i) => new THREE.Color().setRGB(i / 255, 0, 0, THREE.SRGBColorSpace).r);

function Skin({ overlay, clipping }: { overlay: Overlay; clipping: THREE.Plane[] }) {
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(overlay.positions, 3));
    const shown = coloursOf(overlay.values, overlay.from, overlay.to);
    // The renderer reckons in linear light and brings it back for the screen. A facet has the same colour at its three corners.
    const corners = overlay.per === 'corner' ? 1 : 3;
    const colours = new Float32Array(corners * shown.length);
    for (let i = 0, at = 0; i < shown.length; i += 3)
      for (let k = 0; k < corners; k++) {
        colours[at++] = LINEAR[shown[i]!]!;
        colours[at++] = LINEAR[shown[i + 1]!]!;
        colours[at++] = LINEAR[shown[i + 2]!]!;
      }
    g.setAttribute('color', new THREE.BufferAttribute(colours, 3));
    if (overlay.indices) g.setIndex(new THREE.BufferAttribute(overlay.indices, 1));
    return g;
  }, [overlay]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    // Unlit: a shade must not be taken for a reading.
    <mesh geometry={geometry} renderOrder={1}>
      <meshBasicMaterial vertexColors side={THREE.DoubleSide} clippingPlanes={clipping} toneMapped={false} />
    </mesh>
  );
}

/** The body as a mirror, from the normals of its exact surfaces. */
function Mirror({
  overlay,
  normals,
  asked,
  clipping,
}: {
  overlay: Overlay;
  normals: Float32Array;
  asked: Extract<Ask, { what: 'reflection' }>;
  clipping: THREE.Plane[];
}) {
  const { invalidate } = useThree();
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(overlay.positions, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
    if (overlay.indices) g.setIndex(new THREE.BufferAttribute(overlay.indices, 1));
    return g;
  }, [overlay, normals]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const material = useMemo(mirrorMaterial, []);
  useEffect(() => () => material.dispose(), [material]);
  useEffect(() => {
    const u = material.uniforms;
    u.toward!.value.set(...AXES[asked.toward]);
    u.count!.value = asked.count;
    u.blend!.value = asked.blend;
    u.kind!.value = { stripes: 0, isophotes: 1, room: 2 }[asked.as];
    material.clippingPlanes = clipping;
    invalidate();
  }, [material, asked, clipping, invalidate]);
  return <mesh geometry={geometry} material={material} />;
}

function Segments({
  lines,
  colour = TONES.bad,
  width = 2.5,
  through = false,
}: {
  lines: Float32Array;
  colour?: string;
  width?: number;
  through?: boolean;
}) {
  const points = useMemo(
    () => Array.from({ length: lines.length / 3 }, (_, i) => [...lines.subarray(3 * i, 3 * i + 3)] as [number, number, number]),
    [lines],
  );
  return <Line points={points} segments color={colour} lineWidth={width} depthTest={!through} renderOrder={through ? 5 : 2} />;
}

/** The section the chart points at: a frame round the body where the plane lies. */
export function SectionFrame({ extent }: { extent: { min: readonly [number, number, number]; max: readonly [number, number, number] } }) {
  const answer = useInspect((s) => s.answer);
  const row = useInspect((s) => s.row);
  const outlines = useInspect((s) => s.outlines);
  const { invalidate } = useThree();
  useEffect(() => {
    if (row !== undefined && outlines) invalidate();
  }, [row, outlines, invalidate]);
  const lines = useMemo(() => {
    const out: number[] = [];
    for (const loop of outlines) for (let i = 0; i < loop.length; i++) out.push(...loop[i]!, ...loop[(i + 1) % loop.length]!);
    return Float32Array.from(out);
  }, [outlines]);
  if (answer?.what !== 'sections' || row === null || !answer.rows[row]) return null;
  return (
    <>
      <Line points={frameOfPlane(answer.rows[row], extent.min, extent.max).map((p) => [...p])} color={TONES.good} lineWidth={2} />
      {lines.length > 0 && <Segments lines={lines} />}
    </>
  );
}

/** The scale of the colours, in the reading's unit. */
export function Legend() {
  const overlay = useInspect((s) => s.answer?.overlay ?? null);
  const what = useInspect((s) => s.answer?.what);
  if (!overlay || overlay.normals) return null;
  const stops = Array.from(
    { length: 10 },
    (_, i) =>
      `rgb(${viridis(i / 9)
        .map((c) => Math.round(255 * c))
        .join(' ')})`,
  );
  const value = (share: number): string => {
    const v = overlay.from + share * (overlay.to - overlay.from);
    return Math.abs(v) >= 100 ? v.toFixed(0) : Math.abs(v) >= 1 || v === 0 ? v.toFixed(1) : v.toPrecision(2);
  };
  return (
    <figure
      aria-label={`Colours from ${value(0)} to ${value(1)} ${overlay.unit}`}
      className="absolute right-3 top-3 z-10 border border-line2 bg-panel px-2 py-1.5"
    >
      <div className="h-2.5 w-48" style={{ background: `linear-gradient(to right, ${stops.join(', ')})` }} />
      <div className="mt-0.5 flex w-48 justify-between font-mono text-[11px]">
        {[0, 0.5, 1].map((s) => (
          <span key={s}>
            {value(s)}
            {s === 1 && ` ${overlay.unit}`}
          </span>
        ))}
      </div>
      <figcaption className="text-[11px] text-ink2">
        {what === 'draft' ? 'red: can’t be reached · ' : what === 'label' ? 'Gaussian curvature · ' : ''}grey: no reading
      </figcaption>
    </figure>
  );
}
