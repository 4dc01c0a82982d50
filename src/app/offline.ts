/** The copy of the application that the browser keeps for when its server can't be reached. */
import { useEffect, useState } from 'react';

/** Begins keeping it once the page is there. Where it can't be kept (no secure address, a private window) nothing is lost but that. */
export function keepOffline(): void {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
  addEventListener('load', () => {
    navigator.serviceWorker.register('/offline-worker.js').catch((e: unknown) => console.warn('The application is not kept offline:', e));
  });
}

/** Whether all of it is kept. */
export function useKeptOffline(): boolean {
  const [kept, setKept] = useState(false);
  useEffect(() => {
    if (!('serviceWorker' in navigator)) return;
    let here = true;
    void navigator.serviceWorker.ready.then(() => here && setKept(true));
    return () => {
      here = false;
    };
  }, []);
  return kept;
}
