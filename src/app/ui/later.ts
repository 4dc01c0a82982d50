import { useEffect, useState } from 'react';

/** A part of the page whose code comes when it is first shown. */
export class Later<M, T> {
  value: T | undefined;
  /** The file that did not come, as browsers name it in their message, and how often it was asked for. */
  private missing: { readonly address: string; readonly times: number } | undefined;
  constructor(
    private readonly fetch: () => Promise<M>,
    private readonly part: (module: M) => T,
  ) {}

  /** Browsers may know a file that did not come as such for as long as the page lives: it is asked for anew under another address. */
  async come(): Promise<T> {
    const { missing } = this;
    try {
      const module: M = missing ? await import(/* @vite-ignore */ `${missing.address}?again=${missing.times}`) : await this.fetch();
      this.value = this.part(module);
      return this.value;
    } catch (e) {
      const address = missing?.address ?? /https?:\/\/[^\s?]+/.exec(String(e))?.[0];
      if (address) this.missing = { address, times: (missing?.times ?? 0) + 1 };
      throw e;
    }
  }
}

/**
 * The part once it is there, undefined until then; what can't be fetched is thrown, for the boundary around it. Unlike with React's own `lazy` it is
 * fetched anew when it is shown again.
 */
export function useLater<M, T>(part: Later<M, T>): T | undefined {
  const [here, setHere] = useState<{ readonly value: T } | undefined>(() => part.value && { value: part.value });
  const [error, setError] = useState<unknown>();
  useEffect(() => {
    if (part.value) return;
    let wanted = true;
    part.come().then(
      (value) => {
        if (wanted) setHere({ value });
      },
      (e: unknown) => {
        if (wanted) setError(e ?? new Error('it could not be fetched'));
      },
    );
    return () => {
      wanted = false;
    };
  }, [part]);
  if (error) throw error;
  return here?.value;
}
