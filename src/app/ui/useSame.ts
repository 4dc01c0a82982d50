import { useMemo } from 'react';

/** The same list for as long as it holds the same ids. */
export function useSame(ids: readonly string[]): readonly string[] {
  const key = ids.join();
  return useMemo(() => key.split(',').filter(Boolean), [key]);
}
