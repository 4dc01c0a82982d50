/** A value, or an error in words. Failures cross module boundaries as values, never as exceptions. */
export type Result<T, E = string> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E };

export const ok = <T>(value: T): { readonly ok: true; readonly value: T } => ({ ok: true, value });
export const fail = <E>(error: E): { readonly ok: false; readonly error: E } => ({
  ok: false,
  error,
});

/** What a caught value says: only at the borders to code that throws. */
export const wordsOf = (thrown: unknown): string => (thrown instanceof Error ? thrown.message : String(thrown));
