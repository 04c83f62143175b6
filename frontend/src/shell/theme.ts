/** Day or night, remembered on this machine. */
const KEY = "humble-relay:theme";

export function restoreTheme(): void {
  document.documentElement.dataset.theme = localStorage.getItem(KEY) ?? "day";
}

export function switchTheme(): void {
  const next = document.documentElement.dataset.theme === "night" ? "day" : "night";
  document.documentElement.dataset.theme = next;
  localStorage.setItem(KEY, next);
}
