/** Light or dark: as the system says, or as chosen on this browser. */

export type Theme = "system" | "light" | "dark";

const KEY = "tallshelf-theme";

export function chosenTheme(): Theme {
  const kept = localStorage.getItem(KEY);
  return kept === "light" || kept === "dark" ? kept : "system";
}

export function applyTheme(theme: Theme): void {
  if (theme === "system") {
    localStorage.removeItem(KEY);
    delete document.documentElement.dataset.theme;
  } else {
    localStorage.setItem(KEY, theme);
    document.documentElement.dataset.theme = theme;
  }
}
