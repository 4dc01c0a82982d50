import { OrbitControls } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { type ComponentRef, useEffect, useMemo, useRef } from 'react';
import * as THREE from 'three';

import { picture, useBench, type ViewName } from '../state/bench';
import { BODIES } from './Bodies';
import type { Extent } from './extent';
import { distanceToFit, inView } from './fit';

const DIRECTIONS: Record<ViewName, readonly [number, number, number]> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  side: [1, 0, 0],
  above: [0, -1e-4, 1],
  below: [0, -1e-4, -1],
  corner: [0.42, -0.8, 0.42],
};

/**
 * Light, ground shadow, camera and named views.
 * @param extent what is kept in view @param standing what casts the shadow @param whole every body stands there, as for the picture of the card
 */
export function Rig({ extent, standing, whole }: { extent: Extent; standing: Extent; whole: boolean }) {
  const view = useBench((s) => s.view);
  const mark = useBench((s) => s.mark);
  const ready = useBench((s) => s.scenes.length > 0);
  const { camera, invalidate, size, gl, scene } = useThree();
  useEffect(() => {
    // What was drawn is not kept by the canvas: it is drawn anew right before it is read.
    picture.take = () => {
      gl.render(scene, camera);
      return gl.domElement.toDataURL('image/png');
    };
    picture.card = whole ? () => cardOf(gl, scene, camera, latest.current.standing) : null;
    return () => {
      picture.take = null;
      picture.card = null;
    };
  }, [gl, scene, camera, whole]);
  const controls = useRef<ComponentRef<typeof OrbitControls>>(null);
  const centre = useMemo(() => new THREE.Vector3(...[0, 1, 2].map((k) => (extent.min[k]! + extent.max[k]!) / 2)), [extent]);
  const radius = useMemo(() => Math.max(1, Math.hypot(...[0, 1, 2].map((k) => extent.max[k]! - extent.min[k]!)) / 2), [extent]);
  const key = `${ready} ${Math.round(Math.log2(radius) * 2)}`;
  const latest = useRef({ centre, radius, extent, standing });
  latest.current = { centre, radius, extent, standing };

  const place = (d: THREE.Vector3): void => {
    const { centre: c, radius: r, extent: all, standing: bodies } = latest.current;
    const fov = ((camera as THREE.PerspectiveCamera).fov * Math.PI) / 360;
    const aim = c.clone();
    const distance = distanceToFit(all, bodies, aim, d, camera.up, fov, size.width / Math.max(1, size.height));
    camera.position.copy(aim).addScaledVector(d, distance);
    camera.near = Math.max(0.1, distance - 6 * r);
    camera.far = distance + 12 * r;
    camera.updateProjectionMatrix();
    controls.current?.target.copy(aim);
    controls.current?.update();
    invalidate();
  };

  // What grows out of a view that held all of it is followed, seen from the same side; who looks at a detail is left there.
  const seen = useRef<Extent | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is looked at changes by itself, not with the camera
  useEffect(() => {
    const before = seen.current;
    seen.current = extent;
    const target = controls.current?.target;
    if (!before || !target || !inView(before, camera) || inView(extent, camera)) return;
    place(camera.position.clone().sub(target).normalize());
  }, [extent]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the view follows requests and large changes of size, not every small one
  useEffect(() => {
    const d = new THREE.Vector3(...(typeof view.name === 'string' ? DIRECTIONS[view.name] : view.name.from)).normalize();
    // Looked at straight down there is no up for the eye to keep to: a hair of a tilt decides it.
    if (typeof view.name !== 'string' && Math.abs(d.z) > 0.9999) d.addScaledVector(new THREE.Vector3(...view.name.up), -1e-4);
    place(d);
  }, [view.request, key, size.width > 0]);

  // Flies to a marked place: the camera comes round to face it.
  useEffect(() => {
    if (!mark) return;
    const { centre: c, radius: r } = latest.current;
    const p = new THREE.Vector3(...mark.at);
    const out = p.clone().sub(c);
    out.z *= 0.4;
    if (out.length() < 1e-3) out.set(0.4, -0.8, 0.4);
    out.normalize();
    out.z = Math.max(out.z, 0.18);
    camera.position.copy(p).addScaledVector(out.normalize(), r * 2.6);
    controls.current?.target.copy(p);
    controls.current?.update();
    invalidate();
  }, [mark, camera, invalidate]);

  return (
    <>
      <OrbitControls ref={controls} makeDefault enableDamping={false} zoomToCursor rotateSpeed={0.8} />
      <hemisphereLight args={['#ffffff', '#cfcabd', 1.9]} position={[0, 0, 1]} />
      <directionalLight
        position={[centre.x - radius * 2, centre.y - radius * 2.5, centre.z + radius * 3]}
        intensity={2.1}
        color="#fffaf0"
      />
      <directionalLight position={[centre.x + radius * 3, centre.y - radius, centre.z + radius]} intensity={0.9} color="#eef3ff" />
      <directionalLight position={[centre.x, centre.y + radius * 3, centre.z + radius]} intensity={0.55} />
      {ready && <GroundShadow extent={standing} />}
    </>
  );
}

/** Of a card, device px. */
const [CARD_WIDTH, CARD_HEIGHT] = [288, 216] as const;

/** The bodies alone, drawn into a corner of the canvas and copied from there before anything of it is shown; then the stage is drawn as it was. */
function cardOf(gl: THREE.WebGLRenderer, scene: THREE.Scene, camera: THREE.Camera, bodies: Extent): string | null {
  const canvas = gl.domElement;
  if (canvas.width < CARD_WIDTH || canvas.height < CARD_HEIGHT) return null;
  const eye = new THREE.PerspectiveCamera(26, CARD_WIDTH / CARD_HEIGHT);
  eye.up.set(0, 0, 1);
  const aim = new THREE.Vector3(...[0, 1, 2].map((k) => (bodies.min[k]! + bodies.max[k]!) / 2));
  const away = new THREE.Vector3(...DIRECTIONS.corner).normalize();
  const reach = Math.max(1, Math.hypot(...[0, 1, 2].map((k) => bodies.max[k]! - bodies.min[k]!)) / 2);
  const distance = distanceToFit(bodies, null, aim, away, eye.up, (13 * Math.PI) / 180, CARD_WIDTH / CARD_HEIGHT);
  eye.position.copy(aim).addScaledVector(away, distance);
  eye.near = Math.max(0.1, distance - 3 * reach);
  eye.far = distance + 3 * reach;
  eye.lookAt(aim);
  eye.updateProjectionMatrix();
  const beside = scene.children.filter((o) => o.visible && !(o as THREE.Light).isLight && o.name !== BODIES);
  const ratio = gl.getPixelRatio();
  const size = gl.getSize(new THREE.Vector2());
  for (const o of beside) o.visible = false;
  gl.setViewport(0, 0, CARD_WIDTH / ratio, CARD_HEIGHT / ratio);
  gl.render(scene, eye);
  const out = document.createElement('canvas');
  [out.width, out.height] = [CARD_WIDTH, CARD_HEIGHT];
  // The corner is the lower left one.
  out.getContext('2d')!.drawImage(canvas, 0, canvas.height - CARD_HEIGHT, CARD_WIDTH, CARD_HEIGHT, 0, 0, CARD_WIDTH, CARD_HEIGHT);
  for (const o of beside) o.visible = true;
  gl.setViewport(0, 0, size.x, size.y);
  gl.render(scene, camera);
  return out.toDataURL('image/webp', 0.85);
}

function GroundShadow({ extent }: { extent: Extent }) {
  const texture = useMemo(() => {
    const canvas = document.createElement('canvas');
    canvas.width = 128;
    canvas.height = 128;
    const g = canvas.getContext('2d')!;
    const shade = g.createRadialGradient(64, 64, 18, 64, 64, 62);
    shade.addColorStop(0, 'rgba(40,44,40,0.34)');
    shade.addColorStop(0.55, 'rgba(40,44,40,0.11)');
    shade.addColorStop(1, 'rgba(40,44,40,0)');
    g.fillStyle = shade;
    g.fillRect(0, 0, 128, 128);
    return new THREE.CanvasTexture(canvas);
  }, []);
  const w = (extent.max[0] - extent.min[0]) * 1.45;
  const d = (extent.max[1] - extent.min[1]) * 1.45;
  return (
    <mesh position={[(extent.min[0] + extent.max[0]) / 2 + w * 0.06, (extent.min[1] + extent.max[1]) / 2 + d * 0.05, extent.min[2] - 0.05]}>
      <planeGeometry args={[w, d]} />
      <meshBasicMaterial map={texture} transparent depthWrite={false} />
    </mesh>
  );
}
