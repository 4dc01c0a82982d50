import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { sourceOf } from '../../core/form/read';
import { ballCage, boxCage, gridCage, torusCage, tubeCage } from '../../core/form/starts';
import { addStep, bodiesBefore, curvesBefore, emptyProfile, freshId, planesBefore, setProfile } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { type PickKind, type PlaneInputs, type RaiseMode, type StepKind, standsAlone, stepDefinitions } from '../../core/recipe/steps';
import { bodyWords, planeWords, stepTitle } from '../../core/recipe/words';
import { addForm, chooseCageFile, formFromDrawing, startRings } from '../form/begin';
import { setBench, useBench } from '../state/bench';
import { change } from '../state/project';
import { chooseStepFile } from './bringIn';

interface Offer {
  readonly group: string;
  readonly label: string;
  readonly hint: string;
  readonly run: () => void;
}

/** What can be done next, in verbs grouped by what the maker wants. */
export function offers(project: Project): Offer[] {
  const bodies = bodiesBefore(project);
  const built = useBench.getState().result?.bodies;
  const skin = (id: string): boolean => built?.find((b) => b.id === id)?.closed === false;
  const add = (
    kind: StepKind,
    inputs: Record<string, unknown>,
    pick?: { what: PickKind | 'edges'; field: string; most?: number },
    values?: Record<string, string>,
  ): void => {
    let id = '';
    change((p) => {
      const r = addStep(p, kind, inputs, values);
      id = r.id;
      return r.project;
    });
    const { what, ...target } = pick ?? { what: null };
    setBench({ step: id, ...(what ? { picking: { target: { step: id, ...(target as { field: string; most?: number }) }, what } } : {}) });
  };
  const draw = (plane: string, half: boolean): void => {
    const id = freshId(
      'profile',
      project.profiles.map((p) => p.id),
    );
    change((p) => setProfile(p, emptyProfile(id, `Profile ${p.profiles.length + 1}`, plane, half)));
    setBench({ profile: id });
  };
  const out: Offer[] = [
    { group: 'Draw', label: 'New half profile', hint: 'beside the axis, on the board', run: () => draw('front', true) },
    ...planesBefore(project).map((p) => ({
      group: 'Draw',
      label: `New drawing on ${planeWords(p, project)}`,
      hint: p === 'level' ? 'seen from above' : p === 'front' ? 'seen from the front' : p === 'side' ? 'seen from the side' : '',
      run: () => draw(p, false),
    })),
  ];
  for (const p of project.profiles) {
    const raise = (kind: 'revolve' | 'extrude', verb: string, more: Record<string, unknown>): void => {
      const put = (group: string, label: string, hint: string, mode: RaiseMode['mode'], body: string | null, extra = {}): void => {
        out.push({ group, label, hint, run: () => add(kind, { profile: p.id, ...more, ...extra, mode, body }) });
      };
      put('Raise', `${verb} ${p.name}`, 'as a new body', 'new', null);
      put('Raise', `${verb} ${p.name}, as a surface`, 'a skin without an inside', 'surface', null);
      for (const b of bodies.filter((id) => !skin(id))) {
        const name = bodyWords(b, project);
        put('Join and cut', `${verb} ${p.name}, joined`, `to ${name}`, 'join', b);
        put('Join and cut', `${verb} ${p.name}, cut`, `from ${name}`, 'cut', b, kind === 'extrude' ? { extent: 'both' } : {});
        put('Join and cut', `${verb} ${p.name}, in common`, `with ${name}`, 'common', b);
      }
    };
    if (p.half) raise('revolve', 'Revolve', {});
    else raise('extrude', 'Extrude', { extent: 'one', way: 'out', fill: 'solid', faces: [], until: null });
  }
  // What needs an inside is not offered for a surface.
  for (const b of bodies.filter((id) => !skin(id))) {
    out.push({
      group: 'Soften',
      label: 'Round edges',
      hint: `of ${bodyWords(b, project)}; pick them on the stage`,
      run: () => add('fillet', { body: b, edges: [] }, { what: 'edges', field: 'edges' }),
    });
    out.push({
      group: 'Soften',
      label: 'Smooth edges, curvature-continuous',
      hint: `of ${bodyWords(b, project)}; no jump where the round begins`,
      run: () => add('fillet', { body: b, edges: [], section: 'smooth' }, { what: 'edges', field: 'edges' }),
    });
    out.push({
      group: 'Soften',
      label: 'Round off narrow faces fully',
      hint: `of ${bodyWords(b, project)}; ribs and rims`,
      run: () => add('fullround', { body: b, faces: [] }, { what: 'faces', field: 'faces' }),
    });
    out.push({
      group: 'Soften',
      label: 'Chamfer edges',
      hint: `of ${bodyWords(b, project)}; pick them on the stage`,
      run: () => add('chamfer', { body: b, edges: [], by: 'distance', side: 'first' }, { what: 'edges', field: 'edges' }),
    });
    const wall = project.dimensions.some((d) => d.name === 'wall') ? { wall: 'wall' } : undefined;
    out.push({
      group: 'Hollow',
      label: `Hollow ${bodyWords(b, project)}`,
      hint: 'open at its topmost flat face',
      run: () => add('shell', { body: b, open: [{ topOf: lastMaker(project, b) }] }, undefined, wall),
    });
    out.push({
      group: 'Hollow',
      label: `Hollow ${bodyWords(b, project)}, open where I pick`,
      hint: 'pick the faces on the stage',
      run: () => add('shell', { body: b, open: [] }, { what: 'faces', field: 'open' }, wall),
    });
  }
  out.push({
    group: 'Raise',
    label: 'Set up a box, cylinder, cone, ball or ring',
    hint: 'as a new body',
    run: () => add('primitive', { shape: 'box', plane: 'level', places: [], mode: 'new', body: null }),
  });
  const forms: readonly (readonly [string, string, () => void])[] = [
    ['Form a vessel by rings', 'a smooth body from a table of heights, radii and twists', () => addForm(startRings())],
    ['Form a rounded box', 'the smooth limit of a cage of quads', () => addForm(sourceOf(boxCage([80, 60, 40], [3, 2, 2])))],
    ['Form a pebble', 'a ball of quads', () => addForm(sourceOf(ballCage(30, 2)))],
    ['Form a soft ring', 'a ring of quads', () => addForm(sourceOf(torusCage(35, 12, 8, 12)))],
    ['Form a tube', 'an open cylinder of quads, closed flat above and below', () => addForm(sourceOf(tubeCage(30, 80, 12, 5)))],
    ['Form a sheet', 'a flat grid of quads, as a surface', () => addForm(sourceOf(gridCage(80, 60, 4, 3)), 'level', 'surface')],
    ...project.profiles.map(
      (p) =>
        [
          `Form of ${p.name}`,
          p.half ? 'a cage of quads: the profile turned' : 'a cage of quads: its outline drawn up',
          () => formFromDrawing(project, p.id),
        ] as const,
    ),
    ['Form by a cage from an OBJ file…', 'its faces, whose smooth limit is the body', chooseCageFile],
  ];
  for (const [label, hint, run] of forms) out.push({ group: 'Raise', label, hint, run });
  out.push({ group: 'Raise', label: 'Bring in a STEP file…', hint: 'its solids as bodies to build on', run: chooseStepFile });
  const flat = project.profiles.filter((p) => !p.half);
  if (flat.length > 1)
    out.push({
      group: 'Raise',
      label: 'Loft through drawings',
      hint: 'sections, and rails if you like',
      run: () =>
        add('loft', {
          sections: flat.slice(0, 2).map((p) => p.id),
          paths: [],
          rails: 'drawn',
          skin: 'smooth',
          run: 'open',
          start: 'free',
          end: 'free',
          shifts: '',
          mode: 'new',
          body: null,
        }),
    });
  const paths = curvesBefore(project);
  const lastCurve = paths.at(-1);
  if (flat.length > 0)
    out.push({
      group: 'Raise',
      label: 'Sweep a drawing along a path',
      hint: 'an edge, a drawn line or a curve in space',
      run: () =>
        add(
          'sweep',
          {
            sections: flat.slice(-1).map((p) => p.id),
            paths: lastCurve ? [{ step: lastCurve }] : [],
            hold: 'square',
            mode: 'new',
            body: null,
          },
          lastCurve ? undefined : { what: 'paths', field: 'paths', most: 1 },
        ),
    });
  out.push({
    group: 'Raise',
    label: 'Coil a wire',
    hint: 'a helix of round wire',
    run: () => add('coil', { plane: 'level', hand: 'right', mode: 'new', body: null }),
  });
  const blank = { places: [], paths: [], plane: 'level', chain: 'smooth', join: 'G2', ends: 'end-start' };
  const draws: [string, string, string, { what: PickKind; field: string; most: number } | undefined][] = [
    ['Draw a line in space', 'line', 'through places, its corners rounded', { what: 'places', field: 'places', most: 100 }],
    ['Draw an arc in space', 'arc', 'from, through and to a place', { what: 'places', field: 'places', most: 3 }],
    ['Draw a tangent arc', 'tangent', 'going on from a curve', { what: 'paths', field: 'paths', most: 1 }],
    ['Lay a curve on a face', 'onto', 'pulled or projected', { what: 'paths', field: 'paths', most: 1 }],
    ['Draw a curve again with fewer points', 'rebuild', 'the deviation shown', { what: 'paths', field: 'paths', most: 1 }],
    ['Draw a smooth curve in space', 'spline', 'through places', { what: 'places', field: 'places', most: 100 }],
    ['Draw a helix', 'helix', 'diameter, turns, rise', undefined],
    ['Draw a chain of edges', 'edges', 'of a body', { what: 'paths', field: 'paths', most: 100 }],
    ['Draw a blend between two curves', 'blend', 'G0 to G3', { what: 'paths', field: 'paths', most: 2 }],
  ];
  for (const [label, by, hint, pick] of draws) out.push({ group: 'Draw', label, hint, run: () => add('curve', { ...blank, by }, pick) });
  const raising = project.steps.filter((s) => stepDefinitions[s.kind]?.group === 'raise' && s.kind !== 'bring');
  const last = raising.at(-1);
  const body = bodies.at(-1);
  const row = { along: 'row', axis: 'x', paths: [], by: 'spacing', symmetric: 'one', skip: '' };
  if (last) {
    const on = standsAlone(last.inputs.mode as RaiseMode['mode']) ? last.id : last.inputs.body;
    out.push({
      group: 'Repeat',
      label: 'Repeat a step in a row or a ring',
      hint: stepTitle(last.id, project),
      run: () => add('pattern', { ...row, what: 'step', step: last.id, body: on }),
    });
  }
  if (body) {
    const name = bodyWords(body, project);
    out.push({
      group: 'Repeat',
      label: `Mirror ${name}`,
      hint: 'in a plane',
      run: () => add('mirror', { body, plane: 'side', result: 'joined' }),
    });
    out.push({
      group: 'Repeat',
      label: `Repeat ${name} in a row or a ring`,
      hint: 'joined',
      run: () => add('pattern', { ...row, what: 'body', step: null, body }),
    });
    if (skin(body)) {
      out.push({
        group: 'Hollow',
        label: `Give a wall to ${name}`,
        hint: 'before it, behind it, or half to either side',
        run: () => add('thicken', { body, side: 'front' }),
      });
      out.push({
        group: 'Hollow',
        label: `Close ${name}`,
        hint: 'with caps or patches, to a solid',
        run: () => add('close', { body }),
      });
    } else {
      out.push({
        group: 'Join and cut',
        label: `Bore holes into ${name}`,
        hint: 'for drains and fixings; as wide as what goes in and its clearance',
        run: () => add('hole', { body, places: [], plane: 'level', depth: 'through' }, { what: 'places', field: 'places', most: 100 }),
      });
      out.push({
        group: 'Join and cut',
        label: `Part a lid off ${name}`,
        hint: 'with a gap, and a lip that registers it',
        run: () => add('lid', { body, plane: planesBefore(project).at(-1) ?? 'level', register: 'lip' }),
      });
      out.push({
        group: 'Hollow',
        label: `Hollow ${name} as a mesh`,
        hint: 'the last resort, for printing only',
        run: () => add('meshhollow', { body, open: [] }, { what: 'faces', field: 'open' }),
      });
      out.push({
        group: 'Hollow',
        label: `Turn a smooth cavity into ${name}`,
        hint: 'that keeps the wall whatever the outside does; pick the face it opens at',
        run: () => add('cavity', { body, open: [], plane: 'level', rim: 'round', lean: 'free' }, { what: 'faces', field: 'open' }),
      });
    }
    out.push({
      group: 'Join and cut',
      label: `Split ${name}`,
      hint: 'by a plane, a line or a body',
      run: () => add('split', { body, by: 'plane', plane: 'level', profile: null, tool: null, keep: 'all' }),
    });
    out.push({
      group: 'Join and cut',
      label: `Move, turn, scale or align ${name}`,
      hint: '',
      run: () => add('move', { body, by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' }),
    });
    out.push({
      group: 'Join and cut',
      label: `Taper faces of ${name}`,
      hint: 'pick them on the stage',
      run: () => add('draft', { body, faces: [], plane: 'level' }, { what: 'faces', field: 'faces' }),
    });
  }
  if (bodies.length > 1) {
    const [first, ...others] = bodies;
    out.push({
      group: 'Join and cut',
      label: 'Combine bodies',
      hint: 'join, cut or keep in common',
      run: () => add('combine', { body: first, mode: 'join', tools: others.slice(0, 1), tooling: 'used' }),
    });
    out.push({
      group: 'Join and cut',
      label: 'Put bodies away',
      hint: 'that only helped',
      run: () => add('remove', { mode: 'delete', bodies: [] }),
    });
  }
  const from = planesBefore(project).at(-1)!;
  const place = (label: string, hint: string, inputs: PlaneInputs, pick?: { what: PickKind; field: string; most: number }): void => {
    out.push({ group: 'Refer', label: `Place a plane ${label}`, hint, run: () => add('plane', inputs, pick) });
  };
  place('at a distance', 'from another plane', { by: 'distance', from });
  place('through a place', 'like another plane', { by: 'place', from, places: [] }, { what: 'places', field: 'places', most: 1 });
  place('at an angle', 'to another plane, about a line', { by: 'tilt', from: 'front', about: 'up', paths: [] });
  place(
    'through three places',
    'ends and middles of edges, points, or typed',
    { by: 'three', places: [] },
    { what: 'places', field: 'places', most: 3 },
  );
  if (bodies.length > 0) {
    place('on a flat face', '', { by: 'on', faces: [] }, { what: 'faces', field: 'faces', most: 1 });
    place(
      'touching a face',
      'where it is nearest to a place',
      { by: 'touch', faces: [], places: [] },
      { what: 'faces', field: 'faces', most: 1 },
    );
    place(
      'between two faces',
      'half-way, or halving their angle',
      { by: 'between', faces: [] },
      { what: 'faces', field: 'faces', most: 2 },
    );
  }
  place('square to a curve', 'at a share of its length', { by: 'square', paths: [] }, { what: 'paths', field: 'paths', most: 1 });
  return out;
}

/** The last revolve joined to a body usually carries its rim. */
function lastMaker(project: Project, body: string): string {
  // A piece that was parted off was made by what made the whole.
  const parted = project.steps.find((s) => s.id === body.replace(/_\d+$/, '') && s.kind === 'split');
  if (parted && parted.inputs.body !== body) return lastMaker(project, String(parted.inputs.body));
  const makers = project.steps.filter(
    (s) => s.kind === 'revolve' && (s.id === body || (s.inputs.body === body && s.inputs.mode === 'join')),
  );
  const withFlat = makers.filter((s) => project.profiles.find((p) => p.id === s.inputs.profile)?.curves.some((c) => c.kind === 'line'));
  return (withFlat[withFlat.length - 1] ?? makers[0])?.id ?? body;
}

export function NextStep({ project }: { project: Project }) {
  const [open, setOpen] = useState(false);
  useHotkeys('n', (e) => {
    e.preventDefault();
    setOpen(true);
  });
  const list = offers(project);
  const groups = [...new Set(list.map((o) => o.group))];
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="flex items-center justify-between border-t border-line2 bg-card px-4 py-2.5 text-left hover:text-teal">
        next step…
        <kbd className="rounded-xs border border-line2 px-1 font-mono text-[11px] text-ink3">N</kbd>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={2}
          className="z-50 w-[340px] rounded-sm border border-line2 bg-card shadow-lg"
        >
          <Command label="Next step">
            <Command.Input
              placeholder="what should happen next?"
              className="w-full border-b border-line bg-transparent px-3 py-2 outline-none"
            />
            <Command.List className="max-h-80 overflow-auto py-1">
              <Command.Empty className="px-3 py-3 text-ink2">Nothing fits. Draw a half profile first.</Command.Empty>
              {groups.map((g) => (
                <Command.Group
                  key={g}
                  heading={g}
                  className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-ink3"
                >
                  {list
                    .filter((o) => o.group === g)
                    .map((o) => (
                      <Command.Item
                        key={o.label + o.hint}
                        value={`${o.label} ${o.hint}`}
                        onSelect={() => {
                          setOpen(false);
                          o.run();
                        }}
                        className="flex cursor-pointer items-baseline gap-2 px-3 py-1 data-[selected=true]:bg-tealwash"
                      >
                        {o.label}
                        <span className="text-[12px] text-ink2">{o.hint}</span>
                      </Command.Item>
                    ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
