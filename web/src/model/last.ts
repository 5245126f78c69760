/** The build that was open last on this device: what is found elsewhere is put into it. */
const KEY = "emvar-last-build";
type Last = { id: string; name: string };

export function lastBuild(): Last | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "null") as Partial<Last> | null;
    return kept?.id && kept.name ? { id: kept.id, name: kept.name } : null;
  } catch {
    return null;
  }
}

export const keepLast = (last: Last) => localStorage.setItem(KEY, JSON.stringify(last));
