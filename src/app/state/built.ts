/** What is asked of the engine about the bodies as they are built. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Printer } from '../../core/print/printer';
import { engine, useBench } from './bench';

interface How {
  /** Not asked where false. */
  readonly when?: boolean;
  /** The last answer stands until the next one is there. */
  readonly keeps?: true;
}

/** Asked once for every build, and not while one runs. @param key what it is asked of, beside the build */
export function useBuilt<T>(key: readonly unknown[], ask: () => Promise<T>, { when = true, keeps }: How = {}) {
  const result = useBench((s) => s.result);
  const stale = useBench((s) => s.stale);
  return useQuery({
    queryKey: [...key, result],
    queryFn: ask,
    enabled: when && !stale,
    staleTime: Infinity,
    structuralSharing: false,
    ...(keeps ? { placeholderData: keepPreviousData } : {}),
  });
}

/** Ways a body can lie on a printer's bed. What logged prints took has no part in them. */
export function useLies(body: string | null, printer: Printer) {
  const plain = { ...printer, pace: 1, fill: 1 };
  return useBuilt(['lies', body, plain], () => engine.lies(body!, plain), { when: body !== null });
}
