import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry } from 'three';

/** Facets as they are drawn; let go of with what shows them. */
export function useSkin(mesh: {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
}): BufferGeometry {
  const skin = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    g.setAttribute('normal', new BufferAttribute(mesh.normals, 3));
    g.setIndex(new BufferAttribute(mesh.indices, 1));
    return g;
  }, [mesh]);
  useEffect(() => () => skin.dispose(), [skin]);
  return skin;
}
