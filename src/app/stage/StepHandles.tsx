import { useThree } from '@react-three/fiber';
import { type KeyboardEvent, type PointerEvent as Press, useEffect, useMemo, useRef, useState } from 'react';
import type { Vec3 } from '../../core/geometry/vectors';
import { heldIn, nudge, putHeld, roundedTo, textOf, written } from '../../core/recipe/held';
import type { Project, Step } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import { carriedAt, type Handle, placeAt, turnTo, valueAlong } from '../../core/recipe/steps/handles';
import { evaluateValue } from '../../core/recipe/values';
import { setBench, useBench } from '../state/bench';
import { change, tableOf } from '../state/project';
import { quickView, useStanding } from '../state/standing';
import { ValueField } from '../ui/ValueField';
import { arrowSign, STILL } from './gestures';
import { acrossPx, letGo, rayAt } from './held';
import { Label } from './Label';
import { Wire } from './Wire';

const TEAL = '#0a6a66';
const MADDER = '#a8243b';
/** What lies beyond what was found to work is shown as far as this share of it. */
const BEYOND = 1.3;

/** The values of the step that is worked on, where they stand: dragged, moved by arrow keys or typed there. */
export function StepHandles({ project }: { project: Project }) {
  const id = useBench((s) => s.step);
  const quiet = useBench((s) => s.picking !== null || s.preview !== null);
  const step = project.steps.find((s) => s.id === id);
  const standing = useStanding(project, step);
  const handles = useMemo(() => (step && standing ? (stepDefinitions[step.kind]?.handles?.(step, standing) ?? []) : []), [step, standing]);
  if (!step?.enabled || quiet) return null;
  return handles.map((handle) => <StepHandle key={`${step.id}/${handle.value}`} {...{ project, step, handle }} />);
}

function StepHandle({ project, step, handle }: { project: Project; step: Step; handle: Handle }) {
  const { camera, gl, invalidate } = useThree();
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const ranging = useBench((s) => s.ranges[step.id]);
  const [pulled, setPulled] = useState<number | null>(null);
  const [typing, setTyping] = useState(false);
  const [near, setNear] = useState(false);
  const drag = useRef<{ x: number; y: number; off: number; last: number; turned: number; waiting: number } | null>(null);
  const definition = stepDefinitions[step.kind]!;
  const spec = definition.values[handle.value]!;
  const check = (text: string) => evaluateValue(spec, text, tableOf(project).scope);
  const read = check(step.values[handle.value] ?? '');
  const held = heldIn(project, step, handle.value);
  // Words over the stage take their place one frame after what they hang on.
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for again whenever the handle moves
  useEffect(() => {
    const timers = [0, 60].map((ms) => setTimeout(() => invalidate(), ms));
    return () => timers.forEach(clearTimeout);
  }, [handle, pulled, typing, near, invalidate]);
  const value = pulled ?? (read.ok ? read.value : null);
  if (value === null || !handle.from.every(Number.isFinite)) return null;
  const at = placeAt(handle, value);
  const like = held ? textOf(project, held) : (step.values[handle.value] ?? '');
  const words = written(value, spec.kind, like, project.units);
  /** What would be built from it, in a moment. */
  const seen = (v: number): Project | null => (held ? putHeld(project, held, written(v, spec.kind, like, project.units)) : null);
  const put = (v: number): void => {
    if (!held) return;
    const text = written(v, spec.kind, like, project.units);
    if (check(text).ok) change((p) => putHeld(p, held, text));
  };
  const turnOf = (v: number): number => ('about' in handle && handle.turn ? handle.turn.of(v) : v);
  /** The value under the pointer, or its turn. */
  const under = (e: Press): number | undefined => {
    const { origin, direction } = rayAt(gl.domElement, camera, e);
    const [eye, way]: [Vec3, Vec3] = [origin.toArray(), direction.toArray()];
    return 'way' in handle ? valueAlong(handle, eye, way) : turnTo(handle, eye, way);
  };
  const begin = (e: Press): void => {
    if (!held || e.button !== 0) return;
    const from = under(e);
    if (from === undefined) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    if (controls) controls.enabled = false;
    drag.current = { x: e.clientX, y: e.clientY, off: value - from, last: from, turned: turnOf(value), waiting: 0 };
  };
  const follow = (e: Press): void => {
    const d = drag.current;
    if (!d || (pulled === null && Math.hypot(e.clientX - d.x, e.clientY - d.y) <= STILL)) return;
    const now = under(e);
    if (now === undefined) return;
    let next = now + d.off;
    if ('about' in handle) {
      // Past half a turn it goes on.
      const by = now - d.last;
      d.turned += Math.atan2(Math.sin(by), Math.cos(by));
      d.last = now;
      next = handle.turn ? handle.turn.back(d.turned) : d.turned;
    }
    const across = acrossPx(camera, gl.domElement.clientHeight, at) / ('way' in handle ? (handle.per ?? 1) : 1);
    const rounded = handle.whole ? Math.round(next) : roundedTo(next, across, spec.kind, like, project.units);
    cancelAnimationFrame(d.waiting);
    d.waiting = requestAnimationFrame(() => {
      if (!check(written(rounded, spec.kind, like, project.units)).ok) return;
      setPulled(rounded);
      const next = seen(rounded);
      const { result, scenes } = useBench.getState();
      if (next) setBench({ quick: quickView(next, [step.id], result, scenes, { built: project }) });
    });
  };
  const end = (): void => {
    if (!letGo(drag, controls)) return;
    if (pulled === null) setTyping(true);
    else put(pulled);
    if (pulled === null || (read.ok && pulled === read.value)) setBench({ quick: null });
    setPulled(null);
  };
  const key = (e: KeyboardEvent): void => {
    if (e.key === 'Enter') return setTyping(true);
    const sign = arrowSign(e.key);
    if (!sign) return;
    e.preventDefault();
    const one = handle.whole ? 1 : nudge(spec.kind, project.units);
    put(value + sign * one * (e.shiftKey ? 10 : 1));
  };
  const report = definition.ranged === handle.value && ranging?.state === 'found' ? ranging.report : null;
  const most = report?.most ?? null;
  const stretch = (from: number, to: number): [number, number, number][] =>
    [from, to].map((v): [number, number, number] => [...placeAt(handle, v)]);
  const told = near || typing || pulled !== null;
  // A point under the knob where there is no line: the first line of its kind would be compiled in the middle of a drag.
  const point = stretch(value, value);
  const rod = told && 'way' in handle ? stretch(0, value) : point;
  const carried = pulled === null ? point : pairs(carriedAt(handle, pulled));
  return (
    <>
      <Wire points={rod} color={TEAL} width={1.5} through order={5} />
      {told && most !== null && 'way' in handle && (
        <>
          <Wire points={stretch(0, most)} color={TEAL} width={4} through order={4} />
          <Wire points={stretch(most, most * BEYOND)} color={MADDER} width={4} through order={4} />
        </>
      )}
      <Wire points={carried} color={TEAL} width={2} through order={5} />
      <Label position={[...at]} center zIndexRange={[8, 0]}>
        <button
          type="button"
          aria-label={`${spec.label}, ${words}`}
          title={
            held
              ? `${spec.label}${'dimension' in held ? ` (${held.dimension})` : ''}: drag it, use the arrow keys, or click to type`
              : `${spec.label} follows ${step.values[handle.value]}: change it on the sheet`
          }
          data-testid={`handle-${handle.value}`}
          aria-disabled={!held}
          className={`pointer-events-auto block h-3.5 w-3.5 touch-none rounded-full border-2 border-card ${held ? 'cursor-grab bg-teal' : 'cursor-not-allowed bg-ink3'}`}
          onPointerDown={begin}
          onPointerMove={follow}
          onPointerUp={end}
          onPointerCancel={end}
          onKeyDown={key}
          onPointerEnter={() => setNear(true)}
          onPointerLeave={() => setNear(false)}
          onFocus={() => setNear(true)}
          onBlur={() => setNear(false)}
        />
        <span
          className={`absolute left-5 top-[-4px] w-max bg-panel px-1 text-[12px] ${told ? '' : 'hidden'} ${typing ? 'pointer-events-auto' : ''}`}
        >
          {spec.label}{' '}
          {typing && held ? (
            <Typed
              label={spec.label}
              text={like}
              check={check}
              done={(text) => {
                setTyping(false);
                if (text !== null && text !== like) change((p) => putHeld(p, held, text));
              }}
            />
          ) : (
            <span className={`font-mono ${pulled === null ? 'text-ink2' : 'text-ink'}`}>{words}</span>
          )}
        </span>
      </Label>
    </>
  );
}

/** Stretches of lines, end after end. */
const pairs = (lines: readonly (readonly Vec3[])[]): [number, number, number][] =>
  lines.flatMap((line) => line.slice(1).flatMap((p, i): [number, number, number][] => [[...line[i]!], [...p]]));

function Typed({
  label,
  text,
  check,
  done,
}: {
  label: string;
  text: string;
  check: (text: string) => ReturnType<typeof evaluateValue>;
  /** With what was typed, or null where it was left. */
  done: (text: string | null) => void;
}) {
  const box = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const input = box.current?.querySelector('input');
    input?.focus();
    input?.select();
  }, []);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only hears when its field is left
    <span
      ref={box}
      onBlur={() => done(null)}
      onKeyDown={(e) => {
        if (e.key === 'Escape' || (e.key === 'Enter' && (e.target as HTMLInputElement).value.trim() === text)) done(null);
      }}
    >
      <ValueField label={`${label} here`} value={text} check={check} onCommit={done} />
    </span>
  );
}
