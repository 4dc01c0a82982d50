import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { isOriginPlane, ORIGIN_PLANES, overPlane } from '../../core/curves/frame';
import { netOf, placeAt } from '../../core/form/cage';
import { cageOf } from '../../core/form/read';
import type { Project } from '../../core/recipe/schema';
import type { FormInputs } from '../../core/recipe/steps';
import { useBench } from '../state/bench';
import { tableOf } from '../state/project';

/** The cage of the form that is worked on, around its body; creased edges stand out. */
export function FormCage({ project }: { project: Project }) {
  const step = useBench((s) => s.step);
  const shown = useBench((s) => s.cage);
  const planes = useBench((s) => s.result?.planes);
  const form = shown ? project.steps.find((s) => s.id === step && s.kind === 'form') : undefined;
  const inputs = form?.inputs as FormInputs | undefined;
  const { invalidate } = useThree();
  const lines = useMemo(() => {
    const plane = inputs && (isOriginPlane(inputs.plane) ? ORIGIN_PLANES[inputs.plane] : planes?.get(inputs.plane));
    if (!inputs || !plane) return null;
    const cage = cageOf(inputs.source, tableOf(project).scope);
    const net = cage.ok ? netOf(cage.value) : null;
    if (!net?.ok) return null;
    const at = (v: number): [number, number, number] => [...overPlane(plane, placeAt(net.value, v))];
    const [plain, creased]: [[number, number, number][], [number, number, number][]] = [[], []];
    for (let e = 0; e < net.value.ends.length / 2; e++) {
      const inside = net.value.sides[2 * e + 1]! >= 0;
      (inside && net.value.crease[e]! > 0 ? creased : plain).push(at(net.value.ends[2 * e]!), at(net.value.ends[2 * e + 1]!));
    }
    return { plain, creased };
  }, [inputs, planes, project]);
  useEffect(() => {
    if (lines || !lines) invalidate();
  }, [lines, invalidate]);
  if (!lines) return null;
  return (
    <>
      {lines.plain.length > 0 && <Line points={lines.plain} segments color="#0a6a66" lineWidth={1.2} />}
      {lines.creased.length > 0 && <Line points={lines.creased} segments color="#8a5000" lineWidth={3} />}
    </>
  );
}
