import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import type { Quick, QuickSkin } from '../../core/recipe/steps/quick';

const MADE = '#dfe4dc';
const TEAL = '#0a6a66';

/** What steps raise while something of theirs is dragged, as facets put together in a moment. */
export function QuickSkins({ quick, clipping }: { quick: Quick; clipping: THREE.Plane[] }) {
  return quick.steps.flatMap(({ step, skins, cuts }) =>
    // biome-ignore lint/suspicious/noArrayIndexKey: skins of a step stand for nothing beyond their order
    skins.map((skin, i) => <Skin key={`${step}/${i}`} {...{ skin, cuts, clipping }} />),
  );
}

function Skin({ skin, cuts, clipping }: { skin: QuickSkin; cuts: boolean; clipping: THREE.Plane[] }) {
  const { invalidate } = useThree();
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(skin.positions, 3));
    g.setIndex(new THREE.BufferAttribute(skin.indices, 1));
    g.computeVertexNormals();
    return g;
  }, [skin]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  // What is taken away is seen through what it is taken from.
  return (
    <mesh geometry={geometry} renderOrder={cuts ? 3 : 0}>
      {/* As bodies have it but for the colour: another one would be compiled at the first move. */}
      <meshPhysicalMaterial
        color={cuts ? TEAL : MADE}
        roughness={0.52}
        clearcoat={0.25}
        clearcoatRoughness={0.5}
        side={THREE.DoubleSide}
        transparent={cuts}
        opacity={cuts ? 0.35 : 1}
        depthTest={!cuts}
        depthWrite={!cuts}
        clippingPlanes={clipping}
      />
    </mesh>
  );
}
