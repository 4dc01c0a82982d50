import { useMemo, useState } from 'react';
import type { Cage } from '../../core/form/cage';
import { netOf } from '../../core/form/cage';
import { limitMesh } from '../../core/form/limit';
import { cutAcross } from '../../core/form/section';
import { fans } from '../../core/form/starts';
import { bounds } from '../../core/mesh/mesh';
import { fixed } from '../../core/units/units';

const [WIDTH, HEIGHT, PAD] = [230, 170, 12];
const INDEX = { x: 0, y: 1, z: 2 } as const;
const WORDS = { y: 'along, from the front', x: 'along, from the side', z: 'across' } as const;

/** A cut through the smooth body, and through the cage about it. */
export function FormSection({ cage }: { cage: Cage }) {
  const [axis, setAxis] = useState<'x' | 'y' | 'z'>('z');
  const [share, setShare] = useState(0.5);
  const meshes = useMemo(() => {
    const net = netOf(cage);
    if (!net.ok) return null;
    const limit = limitMesh(net.value, 3);
    const triangles = fans(cage.faces);
    const places = Float64Array.from(cage.vertices.flat());
    return { limit, places, triangles, box: bounds(places) };
  }, [cage]);
  if (!meshes) return null;
  const k = INDEX[axis];
  const { min, max } = meshes.box;
  const at = min[k]! + (max[k]! - min[k]!) * (0.001 + 0.998 * share);
  const [a, b] = [0, 1, 2].filter((i) => i !== k) as [number, number];
  const scale = Math.min((WIDTH - 2 * PAD) / Math.max(1e-9, max[a]! - min[a]!), (HEIGHT - 2 * PAD) / Math.max(1e-9, max[b]! - min[b]!));
  const px = (p: readonly number[]): string =>
    `${(WIDTH / 2 + (p[a]! - (min[a]! + max[a]!) / 2) * scale).toFixed(1)},${(HEIGHT / 2 - (p[b]! - (min[b]! + max[b]!) / 2) * scale).toFixed(1)}`;
  const body = cutAcross(meshes.limit.places, meshes.limit.indices, k, at);
  const around = cutAcross(meshes.places, meshes.triangles, k, at);
  const lines = (s: ReturnType<typeof cutAcross>): string => s.map(([p, q]) => `M${px(p)}L${px(q)}`).join('');
  const size = (i: number): string => extent(body.flatMap(([p, q]) => [p[i]!, q[i]!]));
  return (
    <div role="group" aria-label="Section of the form">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full border border-line bg-card"
        role="img"
        aria-label={`Section ${WORDS[axis]} at ${fixed(at, 1)} mm`}
      >
        <path d={lines(around)} className="fill-none stroke-teal" strokeDasharray="4 3" strokeWidth={1} />
        <path d={lines(body)} className="fill-none stroke-ink" strokeWidth={1.6} strokeLinecap="round" />
      </svg>
      <div className="flex flex-wrap items-center gap-x-2 pt-0.5">
        <select className="chip" aria-label="Direction of the section" value={axis} onChange={(e) => setAxis(e.target.value as 'x')}>
          {(['z', 'y', 'x'] as const).map((x) => (
            <option key={x} value={x}>
              {WORDS[x]}
            </option>
          ))}
        </select>
        <input
          type="range"
          className="min-w-16 flex-1 accent-teal"
          aria-label="Place of the section"
          min={0}
          max={1}
          step={0.005}
          value={share}
          onChange={(e) => setShare(Number(e.target.value))}
        />
      </div>
      <p className="text-ink2">
        {'xyz'[k]} <span className="font-mono">{fixed(at, 1)}</span>: body <span className="font-mono">{size(a)}</span> ×{' '}
        <span className="font-mono">{size(b)}</span> mm
      </p>
    </div>
  );
}

const extent = (v: readonly number[]): string =>
  v.length === 0 ? '–' : fixed(v.reduce((a, b) => Math.max(a, b)) - v.reduce((a, b) => Math.min(a, b)), 2);
