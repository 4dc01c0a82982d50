type Handlers = { readonly [K in 'pointermove' | 'pointerdown' | 'pointerup' | 'pointerleave']: (e: PointerEvent) => void };

/** Listens to the pointer over an element; what it gives back ends it. */
export function listen(element: HTMLElement, handlers: Handlers): () => void {
  const all = Object.entries(handlers) as [keyof Handlers, (e: PointerEvent) => void][];
  for (const [type, f] of all) element.addEventListener(type, f);
  return () => {
    for (const [type, f] of all) element.removeEventListener(type, f);
  };
}
