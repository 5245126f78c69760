/**
 * One build on the screen: what the server last said, what is tried on it, and the messages. How commands get there is
 * `transport.ts`, in which order and how often `queue.ts`, what an answer changes `changed.ts`.
 */
import { useSyncExternalStore } from "react";
import { applyChanged, isWhole } from "./changed";
import { api, plainWords, type BuildOut, type Edit, type Plan, type Problem } from "./client";
import { pause, Queue, RETRY_MS, type Outcome, type Saved } from "./queue";
import { adopted } from "./tabs";
import { ask, send, tried, type Beside, type Command, type Times } from "./transport";

export type { Beside } from "./transport";
export type { Saved } from "./queue";

export type Shot = {
  build: BuildOut | null;
  preview: { build: BuildOut; label: string; edits: Edit[] } | null;
  refused: string | null;
  missing: string | null;
  /** The server does not answer, or cannot get at the data: why, while it is tried again. */
  away: string | null;
};

const NO_ANSWER = { data: undefined, error: undefined, response: { status: 0 } };

export class BuildStore {
  private shot: Shot = { build: null, preview: null, refused: null, missing: null, away: null };
  private listeners = new Set<() => void>();
  private queue: Queue;

  constructor(readonly id: string) {
    this.queue = new Queue(id, {
      send: (command) => this.send(command),
      ready: () => this.shot.build !== null,
      told: () => this.tell(),
      refused: (why) => this.set({ refused: why }),
    });
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  snapshot = () => this.shot;
  // Apart from the rest: one word says whether an edit is on its way, and nothing else is redrawn for it.
  savedSnapshot = () => this.queue.saved;

  private tell() {
    for (const listener of this.listeners) listener();
  }

  private set(part: Partial<Shot>) {
    this.shot = { ...this.shot, ...part };
    this.tell();
  }

  /** Chooses the clock by which the build is looked at, in every view, until it is turned again. */
  async turn(clock: Times) {
    await this.queue.idle();
    const { data, error } = await api.POST("/api/builds/{build_id}/clock", {
      params: { path: { build_id: this.id } },
      body: { clock, command_id: crypto.randomUUID() },
    });
    if (data && this.queue.empty) this.set({ build: data, preview: null });
    if (error) this.say(plainWords((error as { problems?: Problem[] }).problems));
  }

  /** Asks until there is an answer: a page that was opened while the server was away mends itself. */
  async load() {
    if (this.shot.build) {
      // Kept from the view before: shown at once, and asked for again behind it.
      this.set({ preview: null, refused: null });
      await this.queue.idle();
      const shown = this.shot.build;
      const { data } = await ask(this.id).catch(() => NO_ANSWER);
      if (data && this.still(shown)) this.set({ build: data });
      return;
    }
    for (;;) {
      const { data, error, response } = await ask(this.id).catch(() => NO_ANSWER);
      if (data) {
        this.set({ build: data, away: null, missing: null });
        break;
      }
      const problems = (error as { problems?: Problem[] } | undefined)?.problems;
      if (response.status && response.status < 500) {
        this.set({ missing: plainWords(problems), away: null });
        return;
      }
      this.set({ away: problems ? plainWords(problems) : "Emvar does not answer" });
      await pause(RETRY_MS);
    }
    const left = await adopted<Command>(this.id);
    this.queue.takeUp(left.unsent);
    left.forget();
  }

  /** The rest of an answer that came in part; left aside if another edit has come in between. */
  private async rest() {
    const shown = this.shot.build!;
    await pause(30);
    if (!this.still(shown)) return;
    const { data } = await ask(this.id, shown.times);
    if (data && this.still(shown)) this.set({ build: data });
  }

  /** Whether nothing has come since: a slow answer never takes the place of what was said or chosen after its question. */
  private still(shown: BuildOut): boolean {
    return this.queue.empty && this.shot.build === shown;
  }

  /** One's own cannot be taken from under what came after: the next undo takes that back first. */
  private lastOfAll = false;

  private looksAt: { zone: string; step: string } | null = null;
  /** What is chosen is answered first. */
  lookAt(at: { zone: string; step: string } | null) {
    this.looksAt = at;
  }

  /** Edits that write a whole list or object are made from the plan as it is then: give a function for these. */
  async edit(label: string, edits: Edit[] | ((plan: Plan) => Edit[])): Promise<Outcome> {
    if (typeof edits === "function") {
      await this.queue.idle();
      edits = edits(this.shot.build!.plan);
    }
    return this.queue.push({ command_id: crypto.randomUUID(), label, way: "edits", edits });
  }
  /** What this window has made itself first, also from under what others made. */
  undo() {
    return this.queue.push({ command_id: crypto.randomUUID(), label: "undo", way: "undo", edits: [] });
  }
  redo() {
    return this.queue.push({ command_id: crypto.randomUUID(), label: "redo", way: "redo", edits: [] });
  }

  /** A write beside the plan, in the same queue: kept until the server has it, sent again under the same id. */
  beside(way: Beside, body: Record<string, unknown> = {}, label: string = way) {
    return this.queue.push({ command_id: crypto.randomUUID(), label, way, edits: [], body });
  }

  /** The build as it would be with these edits, by the same clock; nothing is kept. */
  async tryOut(label: string, edits: Edit[]): Promise<BuildOut | null> {
    const shown = this.shot.build;
    if (!shown) return null;
    const told = await tried(shown, label, edits);
    return told && this.shot.build === shown ? applyChanged(shown, told) : null;
  }
  async look(label: string, edits: Edit[]) {
    const build = await this.tryOut(label, edits);
    if (build) this.set({ preview: { build, label, edits } });
  }
  putBack() {
    if (this.shot.preview) this.set({ preview: null });
  }
  async keep() {
    const preview = this.shot.preview;
    if (!preview) return;
    await this.edit(preview.label, preview.edits);
    this.putBack();
  }
  /** Tells the user something that needs no answer. */
  say(words: string) {
    this.set({ refused: words });
  }
  heard() {
    this.set({ refused: null });
  }

  /** A command's outcome; null: no answer, try again. */
  private async send(command: Command): Promise<Outcome | null> {
    for (;;) {
      const build = this.shot.build!;
      const reply = await send(build, command, this.looksAt, this.lastOfAll);
      if (reply === null) return null;
      if ("shown" in reply) return { ok: true, shown: reply.shown };
      if ("told" in reply) {
        const { told } = reply;
        this.lastOfAll = false;
        this.set({ build: isWhole(told) ? told : applyChanged(build, told), preview: null, refused: null });
        if (!isWhole(told) && told.partial) void this.rest();
        return { ok: true };
      }
      if ("refused" in reply) {
        if (command.way === "edits" || command.way === "undo" || command.way === "redo")
          this.lastOfAll = reply.where === "undo";
        return { ok: false, why: reply.refused };
      }
      const now = reply.conflict;
      this.set({ build: now }); // somebody else's edit came first: take it, then ours
      if (command.way === "edits" || (command.way === "undo" && now.history.own && !this.lastOfAll)) continue;
      // Undo and redo are never turned on what somebody else did: that is looked at first.
      const last = command.way === "undo" ? now.history.undo : now.history.redo;
      const what = last
        ? `the last change is now “${last}”; press again to ${command.way} it`
        : "look at it first";
      return { ok: false, why: `another window changed the build in between: ${what}` };
    }
  }
}

let last: BuildStore | null = null;
/** The store of a build; that of the build before is kept from view to view, so that nothing blanks in between. */
export function storeOf(id: string): BuildStore {
  if (last?.id !== id) last = new BuildStore(id);
  return last;
}

export function useSaved(store: BuildStore): Saved {
  return useSyncExternalStore(store.subscribe, store.savedSnapshot);
}

export function useShot(store: BuildStore): Shot {
  return useSyncExternalStore(store.subscribe, store.snapshot);
}
