import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';

/** Stretches between pairs of places, as thick as asked for. Their material stays while the places move: a new one would be compiled anew each time. */
export function Wire({
  points,
  color,
  width,
  through = false,
  order = 0,
}: {
  points: readonly (readonly [number, number, number])[];
  color: string;
  width: number;
  /** Drawn also where something is before it. */
  through?: boolean;
  order?: number;
}) {
  const { invalidate } = useThree();
  const material = useMemo(() => new LineMaterial({ color, linewidth: width, depthTest: !through }), [color, width, through]);
  const line = useMemo(() => new LineSegments2(new LineSegmentsGeometry(), material), [material]);
  useEffect(() => () => material.dispose(), [material]);
  useEffect(() => {
    const geometry = new LineSegmentsGeometry().setPositions(Float32Array.from(points.flat()));
    line.geometry.dispose();
    line.geometry = geometry;
    line.frustumCulled = false;
    line.renderOrder = order;
    line.visible = points.length > 0;
    invalidate();
    return () => geometry.dispose();
  }, [line, points, order, invalidate]);
  return <primitive object={line} />;
}
