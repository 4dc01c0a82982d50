import { note, recall } from '../storage/small';

const KEY = 'ivory-lathe-theme';

export function applyTheme(): void {
  document.documentElement.dataset.theme = recall(KEY) ?? 'light';
}

export function toggleTheme(): void {
  note(KEY, document.documentElement.dataset.theme === 'dark' ? 'light' : 'dark');
  applyTheme();
}
