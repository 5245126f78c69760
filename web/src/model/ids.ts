/** Ids for new things: readable, never taken. */
export function newId(words: string): string {
  const slug = words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 20);
  return `${slug || "step"}-${crypto.randomUUID().slice(0, 6)}`;
}
