/** The usual cautions for declared uses and processes. Common practice, no source; they defer to local codes and licensed practice. */
import type { Brief } from '../recipe/schema';

export const USES: Readonly<Record<string, { readonly label: string; readonly caution: string }>> = {
  heat: {
    label: 'near heat or steam',
    caution:
      'Heat and steam: check the material’s softening temperature with margin; a printed part creeps well below it. Keep it away from flames and heating elements.',
  },
  lamp: {
    label: 'a lamp or shade',
    caution:
      'Lamps: keep clearance to the bulb, use cool light sources and tested fittings only; mains wiring belongs to a licensed electrician.',
  },
  candle: {
    label: 'holds a candle',
    caution: 'Candles: only non-combustible materials near the flame; never leave it burning unattended.',
  },
  food: {
    label: 'food or drink contact',
    caution: 'Food and drink: prints are porous and hard to clean; use coatings approved for contact and mind their temperature limits.',
  },
  pressure: {
    label: 'under pressure',
    caution: 'Pressure: this program does not calculate strength; pressurised parts need design and testing by qualified people.',
  },
  headgear: {
    label: 'on protective headgear',
    caution: 'Protective headgear: never drill or glue without the maker’s word; fixing anything to it may void its certification.',
  },
  load: {
    label: 'bears load or is part of a vehicle',
    caution: 'Load-bearing and vehicle parts: strength and approval must be shown by qualified people; shape alone shows nothing.',
  },
  children: {
    label: 'in children’s hands',
    caution: 'Children: mind small parts, cords and sharp edges; toy safety rules apply where you sell.',
  },
  sharp: { label: 'has thin edges, or is glass', caution: 'Sharp edges and glass: break or polish edges; handle with gloves.' },
  print: { label: 'printed at home', caution: 'Printing: ventilate the room; uncured resin and its fumes irritate skin and lungs.' },
};

const PROCESS_CAUTIONS: Partial<Record<Brief['process'], string>> = {
  turn: 'Turning: eye protection, no loose sleeves, check the blank for cracks before it spins.',
  mill: 'Milling: clamp the work, wear eye protection, keep hands away from the cutter.',
};

/** Cautions for a brief, in the order of its uses. */
export const cautionsFor = (brief: Brief): string[] => [
  ...brief.uses.flatMap((u) => (USES[u] ? [USES[u].caution] : [])),
  ...(PROCESS_CAUTIONS[brief.process] ? [PROCESS_CAUTIONS[brief.process]!] : []),
];
