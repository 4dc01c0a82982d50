/** Every step kind the document may hold, registered once. */

import { bring } from './bring';
import { cavity } from './cavity';
import { chamfer } from './chamfer';
import { close } from './close';
import { coil } from './coil';
import { combine } from './combine';
import { curve } from './curve';
import type { StepDefinition } from './definition';
import { draft } from './draft';
import { extrude } from './extrude';
import { fillet } from './fillet';
import { form } from './form';
import { fullround } from './fullround';
import { hole } from './hole';
import { lid } from './lid';
import { loft } from './loft';
import { meshhollow } from './meshhollow';
import { mirror } from './mirror';
import { move } from './move';
import { pattern } from './pattern';
import { plane } from './plane';
import { primitive } from './primitive';
import { remove } from './remove';
import { revolve } from './revolve';
import { shell } from './shell';
import { split } from './split';
import { sweep } from './sweep';
import { thicken } from './thicken';

export type { FormSource, RingTexts } from '../../form/source';
export type { BringInputs } from './bring';
export type { CavityInputs } from './cavity';
export type { ChamferInputs } from './chamfer';
export type { CloseInputs } from './close';
export type { CoilInputs } from './coil';
export type { CombineInputs } from './combine';
export type { CurveInputs } from './curve';
export type {
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
  Uses,
} from './definition';
export { type CombineMode, pieceIds, pieceOf, standsAlone } from './definition';
export type { DraftInputs } from './draft';
export type { ExtrudeInputs } from './extrude';
export type { FilletInputs } from './fillet';
export { type FormInputs, mapSource, startRings } from './form';
export type { FullRoundInputs } from './fullround';
export type { HoleInputs } from './hole';
export type { LidInputs } from './lid';
export type { LoftInputs } from './loft';
export type { MeshHollowInputs } from './meshhollow';
export type { MirrorInputs } from './mirror';
export type { MoveInputs } from './move';
export type { PatternInputs } from './pattern';
export type { PlaneInputs } from './plane';
export type { PrimitiveInputs } from './primitive';
export type { RemoveInputs } from './remove';
export type { RevolveInputs } from './revolve';
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
  bring,
  primitive,
  form,
  combine,
  split,
  remove,
  move,
  draft,
  mirror,
  pattern,
  fillet,
  fullround,
  chamfer,
  shell,
  cavity,
  meshhollow,
  thicken,
  close,
  lid,
  hole,
  plane,
  curve,
} as const;
export type StepKind = keyof typeof definitions;

/** The registry by plain text, for documents; undefined for a kind this version does not know, be it called as what every object has. */
export const stepDefinitions: Readonly<Record<string, StepDefinition | undefined>> = Object.assign(Object.create(null), definitions);
