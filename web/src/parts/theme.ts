/** The bench by day, the bench in the evening: kept on this device. */
const KEY = "emvar-theme";
export type Theme = "light" | "dark";
const heard = new Set<() => void>();

export function startTheme() {
  const kept = localStorage.getItem(KEY);
  const wanted =
    kept === "dark" || kept === "light"
      ? kept
      : matchMedia("(prefers-color-scheme: dark)").matches
        ? "dark"
        : "light";
  document.documentElement.dataset.theme = wanted;
}

export const theme = (): Theme => (document.documentElement.dataset.theme === "dark" ? "dark" : "light");
export const onTheme = (f: () => void) => {
  heard.add(f);
  return () => void heard.delete(f);
};
export function setTheme(next: Theme) {
  document.documentElement.dataset.theme = next;
  localStorage.setItem(KEY, next);
  for (const f of heard) f();
}
