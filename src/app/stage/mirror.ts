import * as THREE from 'three';

const MIRROR_VERTEX = /* glsl */ `
#include <clipping_planes_pars_vertex>
varying vec3 vNormalWorld;
varying vec3 vEye;
void main() {
  vec4 world = modelMatrix * vec4(position, 1.0);
  vNormalWorld = normalize(mat3(modelMatrix) * normal);
  vEye = world.xyz - cameraPosition;
  vec4 mvPosition = viewMatrix * world;
  #include <clipping_planes_vertex>
  gl_Position = projectionMatrix * mvPosition;
}`;
const MIRROR_FRAGMENT = /* glsl */ `
#include <clipping_planes_pars_fragment>
uniform vec3 toward;
uniform float count;
uniform float blend;
uniform int kind;
varying vec3 vNormalWorld;
varying vec3 vEye;
void main() {
  #include <clipping_planes_fragment>
  vec3 n = normalize(vNormalWorld) * (gl_FrontFacing ? 1.0 : -1.0);
  vec3 r = reflect(normalize(vEye), n);
  float shade;
  if (kind == 2) {
    // A light ceiling over a darker floor, with a bright horizon between.
    float h = r.z;
    shade = mix(0.30, 0.92, smoothstep(-0.05, 0.9, h)) + 0.35 * exp(-60.0 * h * h);
  } else {
    float t = acos(clamp(dot(kind == 0 ? r : n, toward), -1.0, 1.0)) / 3.14159265;
    float wave = abs(fract(t * count) * 2.0 - 1.0);
    float soft = max(0.5 * blend, fwidth(t * count) * 1.2 + 0.01);
    shade = mix(0.12, 0.94, smoothstep(0.5 - soft, 0.5 + soft, wave));
  }
  gl_FragColor = vec4(vec3(shade) * vec3(1.0, 0.99, 0.965), 1.0);
  #include <colorspace_fragment>
}`;

/** A skin that mirrors stripes (kind 0), shows lines of equal slope (1) or a plain room (2). */
export const mirrorMaterial = (): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    vertexShader: MIRROR_VERTEX,
    fragmentShader: MIRROR_FRAGMENT,
    side: THREE.DoubleSide,
    clipping: true,
    uniforms: { toward: { value: new THREE.Vector3(0, 0, 1) }, count: { value: 1 }, blend: { value: 0 }, kind: { value: 0 } },
  });
