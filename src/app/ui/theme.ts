import { useSyncExternalStore } from 'react';
import { note, recall } from '../storage/small';

const KEY = 'ivory-lathe-theme';

export function applyTheme(): void {
  document.documentElement.dataset.theme = recall(KEY) ?? 'light';
}

export function toggleTheme(): void {
  note(KEY, document.documentElement.dataset.theme === 'dark' ? 'light' : 'dark');
  applyTheme();
}

/** A colour of the theme by its name, for what no style sheet reaches; follows the theme. */
export const useColour = (name: string): string =>
  useSyncExternalStore(whenThemeChanges, () => getComputedStyle(document.documentElement).getPropertyValue(name).trim());

function whenThemeChanges(tell: () => void): () => void {
  const observer = new MutationObserver(tell);
  observer.observe(document.documentElement, { attributeFilter: ['data-theme'] });
  return () => observer.disconnect();
}
