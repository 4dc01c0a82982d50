/** Every step kind the document may hold, registered once. */

import type { Project, Step } from '../schema';
import { bridge } from './bridge';
import { bring } from './bring';
import { cavity } from './cavity';
import { chamfer } from './chamfer';
import { close } from './close';
import { coil } from './coil';
import { combine } from './combine';
import { curve } from './curve';
import type { StepDefinition, StepOf } from './definition';
import { dimples } from './dimples';
import { draft } from './draft';
import { drape } from './drape';
import { extend } from './extend';
import { extrude } from './extrude';
import { fillet } from './fillet';
import { form } from './form';
import { fullround } from './fullround';
import { hole } from './hole';
import { inlay } from './inlay';
import { knit } from './knit';
import { lid } from './lid';
import { loft } from './loft';
import { meshcombine } from './meshcombine';
import { meshhollow } from './meshhollow';
import { mirror } from './mirror';
import { move } from './move';
import { network } from './network';
import { patch } from './patch';
import { pattern } from './pattern';
import { plane } from './plane';
import { primitive } from './primitive';
import { remove } from './remove';
import { revolve } from './revolve';
import { scan } from './scan';
import { scanclean } from './scanclean';
import { scanfit } from './scanfit';
import { scanplace } from './scanplace';
import { seton } from './seton';
import { shell } from './shell';
import { split } from './split';
import { sweep } from './sweep';
import { thicken } from './thicken';
import { tiles } from './tiles';
import { trim } from './trim';
import { wire } from './wire';
import { wrap } from './wrap';

export type { FormSource, RingTexts } from '../../form/source';
export type { CloseInputs } from './close';
export { otherCombines } from './combine';
export type { CurveInputs } from './curve';
export type {
  Around,
  BodyFace,
  Offer,
  OfferGroup,
  Offering,
  PathRef,
  Pick,
  PickKind,
  PiecesInputs,
  PlaceRef,
  RaiseMode,
  SectionRef,
  SentencePart,
  StepDefinition,
  StepOf,
  Uses,
} from './definition';
export { type CombineMode, pieceIds, pieceOf, punctuated, standsAlone } from './definition';
export type { ExtrudeInputs } from './extrude';
export type { FilletInputs } from './fillet';
export { type FormInputs, mapSource, startRings } from './form';
export type { MoveInputs } from './move';
export type { NetworkInputs } from './network';
export type { PatternInputs } from './pattern';
export type { PlaneInputs } from './plane';
export type { PrimitiveInputs } from './primitive';
export type { ShellInputs } from './shell';
export type { SplitInputs } from './split';
export type { SweepInputs } from './sweep';
export type { ThickenInputs } from './thicken';

export const definitions = {
  revolve,
  extrude,
  loft,
  sweep,
  coil,
  wire,
  bring,
  primitive,
  form,
  combine,
  split,
  remove,
  move,
  dimples,
  extend,
  draft,
  drape,
  mirror,
  bridge,
  network,
  patch,
  pattern,
  seton,
  fillet,
  fullround,
  chamfer,
  shell,
  cavity,
  meshhollow,
  inlay,
  knit,
  meshcombine,
  thicken,
  tiles,
  trim,
  wrap,
  close,
  lid,
  hole,
  plane,
  curve,
  scan,
  scanclean,
  scanplace,
  scanfit,
} as const;
export type StepKind = keyof typeof definitions;
/** What a step of a kind holds. */
export type InputsOf<K extends StepKind> = (typeof definitions)[K] extends StepDefinition<infer I, infer _> ? I : never;
/** The names of the values of a kind. */
export type ValuesOf<K extends StepKind> = keyof (typeof definitions)[K]['values'] & string;

/** The registry by plain text, for documents; undefined for a kind this version does not know, be it called as what every object has. */
export const stepDefinitions: Readonly<Record<string, StepDefinition | undefined>> = Object.assign(Object.create(null), definitions);

/** Whether a step is of a kind; its inputs were read by the kind's own schema. */
export const isOf = <K extends StepKind>(step: Step | undefined, kind: K): step is Step & StepOf<InputsOf<K>> => step?.kind === kind;

/** The step of this id, where it is of a kind. */
export function stepOf<K extends StepKind>(project: Pick<Project, 'steps'>, id: string | null, kind: K): StepOf<InputsOf<K>> | undefined {
  const found = project.steps.find((s) => s.id === id);
  return isOf(found, kind) ? found : undefined;
}
