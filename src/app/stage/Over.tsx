import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import type { BodyScene } from '../../engine/types';
import { useSkin } from './useSkin';

const TEAL = '#0a6a66';

/** A body laid over another: its edges, and its skin as a veil one sees the other through. */
export function Over({ scene }: { scene: BodyScene }) {
  const skin = useSkin(scene);
  const edges = useMemo(() => new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(scene.segments, 3)), [scene]);
  useEffect(() => () => edges.dispose(), [edges]);
  return (
    <group>
      <mesh geometry={skin} renderOrder={2}>
        <meshStandardMaterial color={TEAL} roughness={0.7} transparent opacity={0.28} depthWrite={false} side={THREE.DoubleSide} />
      </mesh>
      <lineSegments geometry={edges} renderOrder={3}>
        <lineBasicMaterial color={TEAL} />
      </lineSegments>
    </group>
  );
}
