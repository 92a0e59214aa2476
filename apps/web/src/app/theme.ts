const KEY = 'jarro-theme';

/** Light by default; dark for night work, remembered on this device. */
export function restoreTheme(): void {
  if (localStorage.getItem(KEY) === 'dark') document.documentElement.dataset.theme = 'dark';
}

export function toggleTheme(): void {
  const dark = document.documentElement.dataset.theme === 'dark';
  document.documentElement.dataset.theme = dark ? 'light' : 'dark';
  localStorage.setItem(KEY, dark ? 'light' : 'dark');
}
