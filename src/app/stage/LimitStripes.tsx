import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { type Frame, overPlane } from '../../core/curves/frame';
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
    const [origin, turned] = [{ ...plane, origin: [0, 0, 0] as const }, plane];
    const [places, normals] = [new Float32Array(mesh.places.length), new Float32Array(mesh.places.length)];
    for (let i = 0; i < places.length; i += 3) {
      places.set(overPlane(turned, [mesh.places[i]!, mesh.places[i + 1]!, mesh.places[i + 2]!]), i);
      normals.set(overPlane(origin, [mesh.normals[i]!, mesh.normals[i + 1]!, mesh.normals[i + 2]!]), i);
    }
    g.setAttribute('position', new THREE.BufferAttribute(places, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
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
