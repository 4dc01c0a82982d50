import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { allOverPlane, type Frame } from '../../core/curves/frame';
import { type Cage, netOf } from '../../core/form/cage';
import { limitMesh } from '../../core/form/limit';
import { mirrorMaterial } from './mirror';

/** Facets of the mirror; a finer cage is refined less. */
const MOST_FACETS = 60_000;

/** The smooth limit of a cage as a mirror for stripes: what no other body is built for yet is seen while it is shaped. */
export function LimitStripes({ cage, plane }: { cage: Cage; plane: Frame }) {
  const { invalidate } = useThree();
  const geometry = useMemo(() => {
    const net = netOf(cage);
    if (!net.ok) return null;
    const levels = [4, 3, 2].find((k) => cage.faces.length * 2 * 4 ** k <= MOST_FACETS) ?? 1;
    const mesh = limitMesh(net.value, levels);
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(allOverPlane(plane, mesh.places), 3));
    g.setAttribute('normal', new THREE.BufferAttribute(allOverPlane(plane, mesh.normals, true), 3));
    g.setIndex(new THREE.BufferAttribute(mesh.indices, 1));
    return g;
  }, [cage, plane]);
  const material = useMemo(() => {
    const m = mirrorMaterial();
    m.uniforms.count!.value = 14;
    m.uniforms.blend!.value = 0.2;
    return m;
  }, []);
  useEffect(() => () => material.dispose(), [material]);
  useEffect(() => {
    invalidate();
    return () => geometry?.dispose();
  }, [geometry, invalidate]);
  return geometry ? <mesh geometry={geometry} material={material} /> : null;
}
