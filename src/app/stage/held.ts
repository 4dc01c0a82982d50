/** What lies under the pointer's ray of sight while something is dragged on the stage. */
import * as THREE from 'three';
import type { Vec3 } from '../../core/geometry/vectors';

export function rayAt(element: HTMLElement, camera: THREE.Camera, e: { readonly clientX: number; readonly clientY: number }): THREE.Ray {
  const box = element.getBoundingClientRect();
  const caster = new THREE.Raycaster();
  caster.setFromCamera(
    new THREE.Vector2(((e.clientX - box.left) / box.width) * 2 - 1, 1 - ((e.clientY - box.top) / box.height) * 2),
    camera,
  );
  return caster.ray;
}

/** How much of space one px is at a place, mm. */
export function acrossPx(camera: THREE.Camera, height: number, at: Vec3): number {
  const { fov } = camera as THREE.PerspectiveCamera;
  return (2 * camera.position.distanceTo(new THREE.Vector3(...at)) * Math.tan(THREE.MathUtils.degToRad(fov) / 2)) / height;
}

/** Lets go of what is dragged: what it was; null where nothing was. The view can be turned again. */
export function letGo<T extends { readonly waiting: number }>(
  drag: { current: T | null },
  controls: { enabled: boolean } | null,
): T | null {
  const held = drag.current;
  if (!held) return null;
  cancelAnimationFrame(held.waiting);
  drag.current = null;
  if (controls) controls.enabled = true;
  return held;
}
