/** Files to be kept: fetched first, so that a refusal is shown instead of being saved as if it were the file. */
import { useSyncExternalStore, type AnchorHTMLAttributes, type MouseEvent } from "react";
import { problemWords } from "../api/client";
import { Push } from "./Push";

let why: string | null = null;
const listeners = new Set<() => void>();
function tell(words: string | null) {
  why = words;
  for (const listener of listeners) listener();
}
function listen(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Fetches a file and hands it to the browser to keep; `Unsaved` says what stood in the way. */
export async function save(href: string): Promise<void> {
  tell(null);
  let answer: Response;
  try {
    answer = await fetch(href);
  } catch {
    return tell("Emvar does not answer; save it once it runs");
  }
  if (!answer.ok) {
    const said = (await answer.json().catch(() => ({}))) as { problems?: Parameters<typeof problemWords>[0] };
    return tell(problemWords(said.problems));
  }
  const name = /filename="([^"]*)"/.exec(answer.headers.get("Content-Disposition") ?? "")?.[1];
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await answer.blob());
  link.download = name ?? href.split("/").at(-1)!;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** A link to a file that is saved by pressing it. */
export function SaveLink({ href, ...rest }: AnchorHTMLAttributes<HTMLAnchorElement> & { href: string }) {
  const press = (e: MouseEvent<HTMLAnchorElement>) => {
    rest.onClick?.(e);
    e.preventDefault();
    void save(href);
  };
  return <a {...rest} href={href} download onClick={press} />;
}

/** Why the last file was not saved, until it is closed or another is saved. */
export function Unsaved() {
  const words = useSyncExternalStore(listen, () => why);
  if (!words) return null;
  return (
    <div
      role="alert"
      data-testid="unsaved"
      className="fixed bottom-4 left-4 z-50 flex max-w-xl items-start gap-4 rounded border border-ink bg-paper p-4 text-sm shadow-xl"
    >
      <p>Not saved as a file. {words.replace(/\.$/, "")}.</p>
      <Push onClick={() => tell(null)}>Close</Push>
    </div>
  );
}
