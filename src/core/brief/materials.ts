/**
 * Densities for estimates of mass, g/cm³. Typical handbook values, from memory; a maker's data sheet goes before them.
 */
export const MATERIALS: Readonly<Record<string, { readonly label: string; readonly density: number }>> = {
  pla: { label: 'PLA', density: 1.24 },
  petg: { label: 'PETG', density: 1.27 },
  abs: { label: 'ABS', density: 1.05 },
  pa12: { label: 'PA 12', density: 1.01 },
  resin: { label: 'photopolymer resin', density: 1.15 },
  stoneware: { label: 'stoneware, fired', density: 2.35 },
  porcelain: { label: 'porcelain, fired', density: 2.4 },
  glass: { label: 'soda-lime glass', density: 2.5 },
  beech: { label: 'beech', density: 0.72 },
  aluminium: { label: 'aluminium', density: 2.7 },
  brass: { label: 'brass', density: 8.5 },
  steel: { label: 'stainless steel', density: 7.9 },
};

/** Mass in g of a volume in mm³; undefined for a material that is not listed. */
export const massOf = (mm3: number, material: string): number | undefined => {
  const m = MATERIALS[material];
  return m ? (mm3 / 1000) * m.density : undefined;
};
