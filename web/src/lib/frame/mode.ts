const KEY = 'keen-mode';

/** Day shift or night shift: what was chosen, else what the machine prefers. */
export function startMode(): void {
  const chosen = localStorage.getItem(KEY);
  const dark = chosen ? chosen === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches;
  document.documentElement.dataset.mode = dark ? 'dark' : 'light';
}

export function toggleMode(): void {
  const next = document.documentElement.dataset.mode === 'dark' ? 'light' : 'dark';
  document.documentElement.dataset.mode = next;
  localStorage.setItem(KEY, next);
}
