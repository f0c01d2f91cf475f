import { useEffect, useState } from 'react';

/** Light, dark, or as the system asks. Remembered in this browser. */
export type Theme = 'light' | 'dark';

const KEY = 'yundro.theme';
const darkAsked = (): MediaQueryList => matchMedia('(prefers-color-scheme: dark)');

export function currentTheme(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === 'light' || kept === 'dark') return kept;
  return darkAsked().matches ? 'dark' : 'light';
}

export function applyTheme(theme: Theme = currentTheme()): void {
  document.documentElement.dataset['bsTheme'] = theme;
}

/** Put a theme on while the page is shown: canvases draw anew. */
function change(theme: Theme): void {
  applyTheme(theme);
  window.dispatchEvent(new Event('yundro-theme'));
}

/** Go with the system as it turns dark in the evening, unless a theme was chosen. */
export const followSystem = (): void => darkAsked().addEventListener('change', () => change(currentTheme()));

export function chooseTheme(theme: Theme): void {
  localStorage.setItem(KEY, theme);
  change(theme);
}

/** Tokens read, by theme: asking the page for its style makes it work out its layout first. */
const read = new Map<string, string>();

/** The value of a design token in the present theme, for canvases. */
export function token(name: string): string {
  const key = `${document.documentElement.dataset['bsTheme'] ?? ''} ${name}`;
  const known = read.get(key);
  if (known !== undefined) return known;
  const value = getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  // Empty before the styles are there.
  if (value !== '') read.set(key, value);
  return value;
}

/** Counts the changes of the theme: what draws with tokens draws anew with it. */
export function useThemeRound(): number {
  const [round, setRound] = useState(0);
  useEffect(() => {
    const onTheme = (): void => setRound((n) => n + 1);
    window.addEventListener('yundro-theme', onTheme);
    return () => window.removeEventListener('yundro-theme', onTheme);
  }, []);
  return round;
}
