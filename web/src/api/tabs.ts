/**
 * Each tab keeps its own unsent writes, so that none overwrites another's. A tab holds a lock while it lives; what a
 * tab that is gone has left is taken over by the next one that opens the build.
 */

const TAB = "emvar-tab";
const UNSENT = "emvar-unsent-";
/** Where the browser has none, every other tab counts as gone: what is sent twice counts once. */
function lockManager(): LockManager | undefined {
  return (globalThis as { navigator?: { locks?: LockManager } }).navigator?.locks;
}

let tab: string | null = null;

/** This tab's name: its own for as long as it lives, also over a reload. */
export function ownTab(): string {
  tab ??= sessionStorage.getItem(TAB) ?? crypto.randomUUID();
  sessionStorage.setItem(TAB, tab);
  return tab;
}

/** Holds this tab's name. A tab that was duplicated finds it taken, and gets another. */
export async function settled(): Promise<string> {
  const name = ownTab();
  const locks = lockManager();
  if (!locks) return name;
  const held = await new Promise<boolean>((tell) => {
    void locks.request(`${TAB}-${name}`, { ifAvailable: true }, (lock) => {
      tell(lock !== null);
      return lock ? new Promise<never>(() => undefined) : undefined;
    });
  });
  if (held || mine.has(name)) {
    mine.add(name);
    return name;
  }
  tab = crypto.randomUUID();
  sessionStorage.setItem(TAB, tab);
  return settled();
}
const mine = new Set<string>();

export function unsentKey(build: string, of: string, kind = UNSENT): string {
  return `${kind}${build}~${of}`;
}

async function lives(other: string): Promise<boolean> {
  const held = (await lockManager()?.query())?.held;
  return (held ?? []).some((l) => l.name === `${TAB}-${other}`);
}

/** What this tab had not sent of a build when it was left, and what tabs that are gone have not. */
export async function adopted<T>(build: string, kind = UNSENT): Promise<{ unsent: T[]; forget: () => void }> {
  const own = await settled();
  const unsent: T[] = [];
  const theirs: string[] = [];
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!);
  for (const key of keys.filter((k) => k.startsWith(unsentKey(build, "", kind)))) {
    const of = key.slice(unsentKey(build, "", kind).length);
    if (of !== own && (await lives(of))) continue;
    unsent.push(...(JSON.parse(localStorage.getItem(key) ?? "[]") as T[]));
    if (of !== own) theirs.push(key);
  }
  return { unsent, forget: () => theirs.forEach((key) => localStorage.removeItem(key)) };
}
