/** The printer parts are laid for, and what counts when ways to lie are compared: of the workshop, not of a project. */
import { create } from 'zustand';
import { EVEN, type Weights } from '../../core/print/lie';
import { DESKTOP, type Printer, printerSchema } from '../../core/print/printer';
import { note, recall } from '../storage/small';

const KEY = 'printer';

function kept(): Printer {
  try {
    const read = printerSchema.safeParse(JSON.parse(recall(KEY) ?? ''));
    return read.success ? read.data : DESKTOP;
  } catch {
    return DESKTOP;
  }
}

export const usePrinter = create<{ readonly printer: Printer; readonly weights: Weights }>(() => ({ printer: kept(), weights: EVEN }));

export function setPrinter(more: Partial<Printer>): void {
  const printer = { ...usePrinter.getState().printer, ...more };
  usePrinter.setState({ printer });
  note(KEY, JSON.stringify(printer));
}
export const setWeight = (name: keyof Weights, weight: number): void =>
  usePrinter.setState((s) => ({ weights: { ...s.weights, [name]: weight } }));
