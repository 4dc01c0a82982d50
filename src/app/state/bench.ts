/** What the bench shows beside the document: build results, gauges, selection, looks. Not undoable, not saved. */
import { useMemo } from 'react';
import { create } from 'zustand';
import type { Quick } from '../../core/recipe/steps/quick';
import { EngineClient } from '../../engine/client';
import type { BodyScene, MeasureResult, RebuildResult, StepReport, WallForecast } from '../../engine/types';
import type { Alternative } from '../../engine/untried';
import type { Picking, Ranging, ScreenFrame } from './asked';

type KernelState = 'idle' | 'loading' | 'ready' | 'failed';
export interface SectionCut {
  readonly axis: 'x' | 'y' | 'z';
  /** mm */
  readonly offset: number;
}
export interface Mark {
  readonly at: readonly [number, number, number];
  readonly words: string;
  readonly tone: 'info' | 'warn' | 'fail';
  /** Changes with every request, so that asking twice flies there twice. */
  readonly request: number;
}
export type ViewName = 'front' | 'back' | 'side' | 'above' | 'below' | 'corner';
/** Square to a plane: from the side its normal points to, with its up upwards. */
export interface SquareView {
  readonly from: readonly [number, number, number];
  readonly up: readonly [number, number, number];
}

export type Room = 'shared' | 'board' | 'stage';

interface PreviewMesh {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
}

interface BenchState {
  readonly kernel: KernelState;
  readonly running: { readonly index: number; readonly step: string; readonly since: number } | null;
  readonly measuring: boolean;
  readonly result: RebuildResult | null;
  readonly reports: Readonly<Record<string, StepReport>>;
  readonly scenes: readonly BodyScene[];
  /** Bodies shown are of an earlier state of the sheet. */
  readonly stale: boolean;
  /** Bodies shown are as they were last built of this same sheet, and not built yet. */
  readonly kept: boolean;
  /** The last build was stopped by hand. */
  readonly stopped: boolean;
  readonly measures: readonly MeasureResult[] | null;
  readonly forecasts: Readonly<Record<string, WallForecast>>;
  readonly ranges: Readonly<Record<string, Ranging>>;
  /** Proposed changes that were tried, by their step and words. */
  readonly tried: Readonly<Record<string, Alternative | 'trying'>>;
  /** The one of them the stage shows. */
  readonly shown: string | null;
  readonly preview: readonly PreviewMesh[] | null;
  /** What steps raise while a value or a drawing of theirs is dragged. */
  readonly quick: Quick | null;
  readonly picking: Picking | null;
  readonly picked: { readonly body: string; readonly face?: string; readonly edge?: string } | null;
  /** The body whose row is pointed at. */
  readonly pointed: string | null;
  /** A frame drawn on the stage to pick with. */
  readonly frame: ScreenFrame | null;
  /** What the pointer is over, in words, where; a drawn line by its key. */
  readonly hover: { readonly words: string; readonly x: number; readonly y: number; readonly line?: string } | null;
  readonly section: SectionCut | null;
  readonly mark: Mark | null;
  readonly view: { readonly name: ViewName | SquareView; readonly request: number };
  readonly profile: string | null;
  /** The body whose gauges are read; the first where none is chosen. */
  readonly gaugeBody: string | null;
  /** Who takes the height: stage and board by what one is at, or one of them most of it. */
  readonly room: Room;
  /** A drawing was asked for since the step was selected. */
  readonly drawing: boolean;
  readonly step: string | null;
  /** What is open above the page: the finder, the list of keys, the choice of the next step. */
  readonly finding: boolean;
  readonly listingKeys: boolean;
  readonly choosingStep: boolean;
}

export const useBench = create<BenchState>(() => ({
  kernel: 'idle',
  running: null,
  measuring: false,
  result: null,
  reports: {},
  scenes: [],
  stale: false,
  kept: false,
  stopped: false,
  measures: null,
  forecasts: {},
  ranges: {},
  tried: {},
  shown: null,
  preview: null,
  quick: null,
  picking: null,
  picked: null,
  pointed: null,
  frame: null,
  hover: null,
  section: null,
  mark: null,
  view: { name: 'corner', request: 0 },
  profile: null,
  gaugeBody: null,
  room: 'shared',
  drawing: false,
  step: null,
  finding: false,
  listingKeys: false,
  choosingStep: false,
}));

export const setBench = useBench.setState;

/** Another step selected: the board is for that one. */
useBench.subscribe((s, before) => {
  if (s.step !== before.step && s.drawing && before.drawing) setBench({ drawing: false });
});

/** Puts a drawing on the board and opens the board for it. */
export const openDrawing = (profile: string): void =>
  setBench((s) => ({ profile, drawing: true, room: s.room === 'stage' ? 'shared' : s.room }));

const ROOMS: readonly Room[] = ['shared', 'board', 'stage'];
/** Most of the height to the board, then to the stage, then to both again. */
export const nextRoom = (): void => setBench((s) => ({ room: ROOMS[(ROOMS.indexOf(s.room) + 1) % ROOMS.length]! }));

/** The bodies on the stage: those that are built, or what a change that was tried would make of one. */
export function useScenes(): readonly BodyScene[] {
  const scenes = useBench((s) => s.scenes);
  const tried = useBench((s) => (s.shown === null ? undefined : s.tried[s.shown]));
  const scene = tried && tried !== 'trying' ? tried.scene : null;
  return useMemo(() => {
    if (!scene) return scenes;
    const others = scenes.filter((s) => s.id !== scene.id);
    return [...others, scene];
  }, [scenes, scene]);
}
export const engine = new EngineClient();

/** Draws the stage once more and gives it as a picture; set while there is a stage. */
export const picture: {
  take: (() => string) | null;
  /** The bodies alone from the corner, small and without ground; null where the stage is too small. */
  card: (() => string | null) | null;
} = { take: null, card: null };

let requests = 0;
export const showMark = (at: Mark['at'], words: string, tone: Mark['tone'] = 'info'): void =>
  setBench({ mark: { at, words, tone, request: ++requests } });
/** Cuts the bodies open along the axis, or closes them again. */
export const cutOpen = (): void => setBench((s) => ({ section: s.section ? null : { axis: 'y', offset: 0 } }));
export const look = (name: ViewName | SquareView): void => setBench({ view: { name, request: ++requests } });

/** What each step made, as far as it was built. */
export function useMade(): (step: string) => readonly string[] | undefined {
  const reports = useBench((s) => s.reports);
  return (step) => reports[step]?.made;
}
