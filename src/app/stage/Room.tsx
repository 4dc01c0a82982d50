import { Canvas } from '@react-three/fiber';
import type { ReactNode } from 'react';
import * as THREE from 'three';

/** The canvas bodies stand in: one camera, calm tones, drawn when something changes. */
export function Room({ children }: { children: ReactNode }) {
  return (
    <Canvas
      frameloop="demand"
      dpr={[0.25, 2]}
      gl={{ antialias: true, localClippingEnabled: true, preserveDrawingBuffer: false }}
      camera={{ fov: 26, near: 1, far: 20000, up: [0, 0, 1], position: [300, -420, 260] }}
      onCreated={({ gl }) => {
        // Asking for compile logs holds the page until the graphics process answers.
        gl.debug.checkShaderErrors = false;
        gl.toneMapping = THREE.NeutralToneMapping;
        gl.toneMappingExposure = 1.0;
      }}
    >
      {children}
    </Canvas>
  );
}
