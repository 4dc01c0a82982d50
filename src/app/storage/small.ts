/** Small notes in the browser that nothing hangs on; a browser that refuses them remembers nothing. */
export function recall(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

export function note(key: string, value: string): void {
  try {
    localStorage.setItem(key, value);
  } catch {
    // It is asked again the next time.
  }
}
