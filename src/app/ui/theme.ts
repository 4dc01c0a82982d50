const KEY = 'ivory-lathe-theme';

export function applyTheme(): void {
  document.documentElement.dataset.theme = localStorage.getItem(KEY) ?? 'light';
}

export function toggleTheme(): void {
  localStorage.setItem(KEY, document.documentElement.dataset.theme === 'dark' ? 'light' : 'dark');
  applyTheme();
}
