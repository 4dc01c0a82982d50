/** Ways a part is made, in words. */
import type { Brief } from '../recipe/schema';

export const PROCESSES: Readonly<Record<Brief['process'], { readonly label: string; readonly by: string }>> = {
  print: { label: '3D print', by: 'printing' },
  mould: { label: 'mould', by: 'moulding' },
  mill: { label: 'mill', by: 'milling' },
  turn: { label: 'turn on a lathe', by: 'turning' },
  cast: { label: 'slip cast', by: 'casting' },
};
