import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import * as THREE from 'three';
import type { BodyScene } from '../../engine/types';
import type { SectionCut } from '../state/bench';
import { type Cut, cutBody } from '../state/sections';

const tell = (words: string): void =>
  void toast.error('The cut faces can’t be drawn', { id: 'caps', description: `${words}. Move the section to try again.` });

/** The cut faces: closed, hatched, and drawn from a section of the mesh, so that the model stays untouched. */
export function Caps({ scene, cut }: { scene: BodyScene; cut: SectionCut }) {
  const [result, setResult] = useState<{ cut: Cut; plane: SectionCut } | null>(null);
  const { invalidate } = useThree();
  useEffect(() => {
    let live = true;
    const normal: [number, number, number] = cut.axis === 'x' ? [1, 0, 0] : cut.axis === 'y' ? [0, 1, 0] : [0, 0, 1];
    void (async () => {
      const r = await cutBody(scene, { normal, offset: cut.offset });
      if (!live) return;
      if (r.ok && r.value) setResult({ cut: r.value, plane: cut });
      else if (!r.ok && r.error.because !== 'stopped') tell(r.error.words);
    })();
    return () => {
      live = false;
    };
  }, [scene, cut]);
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    if (!result) return g;
    const { u, v, regions } = result.cut;
    const normal = result.plane.axis === 'x' ? [1, 0, 0] : result.plane.axis === 'y' ? [0, 1, 0] : [0, 0, 1];
    const positions: number[] = [];
    const uvs: number[] = [];
    const index: number[] = [];
    for (const region of regions) {
      const outer = region.outer.map(([x, y]) => new THREE.Vector2(x, y));
      const holes = region.holes.map((h) => h.map(([x, y]) => new THREE.Vector2(x, y)));
      const start = positions.length / 3;
      for (const p of [outer, ...holes].flat()) {
        positions.push(...[0, 1, 2].map((k) => u[k]! * p.x + v[k]! * p.y + normal[k]! * result.plane.offset));
        uvs.push(p.x / 3, p.y / 3);
      }
      for (const t of THREE.ShapeUtils.triangulateShape(outer, holes)) index.push(...t.map((i) => i + start));
    }
    g.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3));
    g.setAttribute('uv', new THREE.Float32BufferAttribute(uvs, 2));
    g.setIndex(index);
    return g;
  }, [result]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  const hatch = useMemo(() => {
    const canvas = document.createElement('canvas');
    canvas.width = 32;
    canvas.height = 32;
    const g = canvas.getContext('2d')!;
    g.fillStyle = '#f6f1e4';
    g.fillRect(0, 0, 32, 32);
    g.strokeStyle = '#59696a';
    g.lineWidth = 2.4;
    for (const o of [-32, 0, 32]) {
      g.beginPath();
      g.moveTo(o, 32);
      g.lineTo(o + 32, 0);
      g.stroke();
    }
    const t = new THREE.CanvasTexture(canvas);
    t.wrapS = THREE.RepeatWrapping;
    t.wrapT = THREE.RepeatWrapping;
    t.colorSpace = THREE.SRGBColorSpace;
    t.anisotropy = 4;
    return t;
  }, []);
  return (
    <mesh geometry={geometry} renderOrder={1}>
      <meshBasicMaterial
        map={hatch}
        side={THREE.DoubleSide}
        polygonOffset
        polygonOffsetFactor={-1}
        polygonOffsetUnits={-1}
        toneMapped={false}
      />
    </mesh>
  );
}
