import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { type KeyboardEvent, type PointerEvent, useEffect, useState } from 'react';
import * as THREE from 'three';
import type { Vec3 } from '../../core/geometry/vectors';
import { turnTies } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { SectionRef } from '../../core/recipe/steps';
import { sectionWords } from '../../core/recipe/words';
import type { Ties } from '../../core/surfaces/loft';
import { change } from '../state/project';
import { Label } from './Label';
import { onScreen } from './pick';

const TEAL = '#0a6a66';
const MADDER = '#a1263a';

/** Which place of a section a tie is being moved to. */
interface Moved {
  readonly section: number;
  readonly tie: number;
  readonly from: number;
  readonly to: number;
}

const nearest = (ring: readonly Vec3[], far: (p: Vec3) => number): number =>
  ring.reduce((best, p, i) => (far(p) < far(ring[best]!) ? i : best), 0);

/** Lines between places of a loft's sections that belong together; their ends are moved along the sections by mouse or arrow keys. */
export function TieLines({ ties, step, failed, project }: { ties: Ties; step: string; failed: boolean; project: Project }) {
  const { camera, gl, invalidate } = useThree();
  const [moved, setMoved] = useState<Moved | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when a tie moves
  useEffect(() => invalidate(), [moved, ties, invalidate]);
  const names = ((project.steps.find((s) => s.id === step)?.inputs.sections as SectionRef[] | undefined) ?? []).map((ref) =>
    sectionWords(ref, project),
  );
  const ringIndex = (section: number, p: Vec3): number =>
    nearest(ties.rings[section]!, (q) => Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]));
  const turn = (section: number, steps: number): void => {
    const n = ties.rings[section]!.length;
    if (steps !== 0) change((p) => turnTies(p, step, section, steps / n));
  };
  const under = (section: number, e: PointerEvent): number => {
    const box = gl.domElement.getBoundingClientRect();
    return nearest(ties.rings[section]!, (q) => {
      const { x, y } = onScreen(camera, new THREE.Vector3(...q), box);
      return Math.hypot(x - (e.clientX - box.left), y - (e.clientY - box.top));
    });
  };
  const handle = (section: number, tie: number, at: Vec3) => {
    const own = moved?.section === section && moved.tie === tie ? moved : null;
    const words = `Tie ${tie + 1} on ${names[section] ?? `section ${section + 1}`}`;
    return (
      <Label key={`${section}.${tie}`} position={own ? ties.rings[section]![own.to]! : at} center zIndexRange={[7, 0]}>
        <button
          type="button"
          aria-label={words}
          title={`${words}: drag it along the section, or use the arrow keys`}
          className={`pointer-events-auto block h-2.5 w-2.5 cursor-grab rounded-full border bg-card ${failed ? 'border-madder' : 'border-teal'} ${own ? 'cursor-grabbing' : ''}`}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            const from = ringIndex(section, at);
            setMoved({ section, tie, from, to: from });
          }}
          onPointerMove={(e) => own && setMoved({ ...own, to: under(section, e) })}
          onPointerUp={() => {
            if (own) turn(section, own.to - own.from);
            setMoved(null);
          }}
          onKeyDown={(e: KeyboardEvent) => {
            const way = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
            if (way === 0) return;
            e.preventDefault();
            turn(section, way * (e.shiftKey ? 10 : 1));
          }}
        />
      </Label>
    );
  };
  return (
    <>
      {ties.lines.map((points, i) => {
        const shown = points.map((p, k) => (moved?.tie === i && moved.section === k ? ties.rings[k]![moved.to]! : p));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: ties stand in the order of the matching
          <Line key={i} points={[...shown]} color={failed ? MADDER : TEAL} lineWidth={1.5} depthTest={false} />
        );
      })}
      {ties.lines.flatMap((points, i) =>
        points.flatMap((p, k) => ((ties.rings[k]?.length ?? 0) > 0 && k < ties.rings.length ? [handle(k, i, p)] : [])),
      )}
    </>
  );
}
