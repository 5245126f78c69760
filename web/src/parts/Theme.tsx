import { useState } from "react";

const KEY = "emvar-theme";
type Theme = "light" | "dark";

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

/** The bench by day, the bench in the evening. */
export function ThemeButton() {
  const [theme, setTheme] = useState<Theme>(() =>
    document.documentElement.dataset.theme === "dark" ? "dark" : "light",
  );
  const other: Theme = theme === "dark" ? "light" : "dark";
  return (
    <button
      type="button"
      className="push"
      data-bare
      aria-label={`Use the ${other} theme`}
      onClick={() => {
        document.documentElement.dataset.theme = other;
        localStorage.setItem(KEY, other);
        setTheme(other);
      }}
    >
      {other === "dark" ? "Evening" : "Day"}
    </button>
  );
}
