/**
 * One build on the screen: what the server last said, edits on their way, and a preview if one is being looked at.
 * Edits are sent one after the other, each with a command id, and again until the server answers; those not yet
 * answered are kept in the browser, so nothing typed is lost on a reload or while the connection is down.
 */
import { useSyncExternalStore } from "react";
import {
  api,
  plainWords,
  type BuildOut,
  type Changed,
  type Edit,
  type Plan,
  type Problem,
  type Shown,
} from "./client";
import { adopted, ownTab, unsentKey } from "./tabs";

export type Saved = "saved" | "saving" | "waiting";
type Times = BuildOut["times"];
type Outcome = { ok: true; shown?: Shown } | { ok: false; why: string };
/** What is written beside the plan: what happened, pins, the schedule before. */
export type Beside = "record" | "unrecord" | "pin" | "back";
type Command = {
  command_id: string;
  label: string;
  way: "edits" | "undo" | "redo" | Beside;
  edits: Edit[];
  body?: Record<string, unknown>;
};
type Queued = { command: Command; settle: (outcome: Outcome) => void };

export type Shot = {
  build: BuildOut | null;
  preview: { build: BuildOut; label: string; edits: Edit[] } | null;
  refused: string | null;
  missing: string | null;
  /** The server does not answer, or cannot get at the data: why, while it is tried again. */
  away: string | null;
};

const RETRY_MS = 1500;

export function applyChanged(build: BuildOut, c: Changed): BuildOut {
  const steps = new Map((build.plan.steps ?? []).map((s) => [s.id, s]));
  for (const [id, step] of Object.entries(c.steps)) steps.set(id, step);
  const merge = <T>(old: Record<string, T>, more: Record<string, T>, gone: string[]) => {
    const next = { ...old };
    for (const id of gone) Reflect.deleteProperty(next, id);
    return Object.assign(next, more);
  };
  const a = build.assessment;
  const plan = { ...build.plan, ...c.head, steps: c.order.map((id) => steps.get(id)!) };
  const next = { ...build, revision: c.revision, history: c.history, plan };
  if (c.partial) {
    // The first part of the answer: one zone's next steps. The others keep what they had until the rest comes.
    const { zone, steps } = c.partial;
    const worked = new Set(steps);
    const gone: string[] = [];
    for (const id in a.seams) {
      const s = a.seams[id]!;
      if (s.zone_id === zone && worked.has(s.upper_step)) gone.push(id);
    }
    return {
      ...next,
      assessment: {
        ...a,
        times: { ...a.times, ...c.times },
        coats: { ...a.coats, ...c.coats },
        seams: merge(a.seams, c.seams, gone),
      },
    };
  }
  const here = new Set(c.order);
  const left = Object.keys(a.times).filter((id) => !here.has(id)); // of steps that are gone
  return {
    ...next,
    assessment: {
      times: merge(a.times, c.times, left),
      coats: merge(a.coats, c.coats, c.coats_gone),
      seams: merge(a.seams, c.seams, c.seams_gone),
      cups: merge(a.cups, c.cups, left),
      notes: c.notes,
      remarks: c.remarks,
      stories: c.stories,
      score: c.score,
      end_min: c.end_min,
    },
  };
}

function isWhole(told: Changed | BuildOut): told is BuildOut {
  return "assessment" in told;
}

export class BuildStore {
  private shot: Shot = { build: null, preview: null, refused: null, missing: null, away: null };
  // Apart from the rest: whether an edit is on its way is told in one word, and redraws no more than that.
  private savedNow: Saved = "saved";
  private listeners = new Set<() => void>();
  private queue: Queued[] = [];
  private busy = false;

  constructor(readonly id: string) {}

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  snapshot = () => this.shot;
  savedSnapshot = () => this.savedNow;

  private setSaved(saved: Saved) {
    this.savedNow = saved;
    for (const listener of this.listeners) listener();
  }

  private set(part: Partial<Shot>) {
    this.shot = { ...this.shot, ...part };
    for (const listener of this.listeners) listener();
  }

  /** Without `times`: by the clock that was chosen for the build. */
  private ask(times?: Times) {
    return api.GET("/api/builds/{build_id}", { params: { path: { build_id: this.id }, query: { times } } });
  }
  /** Chooses the clock by which the build is looked at, in every view, until it is turned again. */
  async turn(clock: Times) {
    await this.idle();
    const { data, error } = await api.POST("/api/builds/{build_id}/clock", {
      params: { path: { build_id: this.id } },
      body: { clock, command_id: crypto.randomUUID() },
    });
    if (data && !this.queue.length) this.set({ build: data, preview: null });
    if (error) this.say(plainWords((error as { problems?: Problem[] }).problems));
  }

  /** Asks until there is an answer: a page that was opened while the server was away mends itself. */
  async load() {
    if (this.shot.build) {
      // Kept from the view before: shown at once, and asked for again behind it.
      this.set({ preview: null, refused: null });
      await this.idle();
      const { data } = await this.ask().catch(() => ({ data: undefined }));
      if (data && !this.queue.length && data.revision >= this.shot.build.revision) this.set({ build: data });
      return;
    }
    for (;;) {
      const { data, error, response } = await this.ask().catch(() => ({
        data: undefined,
        error: undefined,
        response: { status: 0 },
      }));
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
      await new Promise((r) => setTimeout(r, RETRY_MS));
    }
    const left = await adopted<Command>(this.id);
    const waiting = new Set(this.queue.map((q) => q.command.command_id));
    for (const command of left.unsent) if (!waiting.has(command.command_id)) void this.push(command);
    left.forget();
  }

  /** The rest of an answer that came in part; left aside if another edit has come in between. */
  private async rest() {
    const revision = this.shot.build!.revision;
    await new Promise((r) => setTimeout(r, 30));
    if (this.queue.length || this.shot.build!.revision !== revision) return;
    const { data } = await this.ask(this.shot.build!.times);
    if (data && data.revision === this.shot.build!.revision) this.set({ build: data });
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
      await this.idle();
      edits = edits(this.shot.build!.plan);
    }
    return this.push({ command_id: crypto.randomUUID(), label, way: "edits", edits });
  }
  /** Once nothing is on its way; at once where the connection is down. */
  private async idle() {
    while (this.queue.length && this.savedNow !== "waiting") await new Promise((r) => setTimeout(r, 10));
  }
  /** What this window has made itself first, also from under what others made. */
  undo() {
    return this.push({ command_id: crypto.randomUUID(), label: "undo", way: "undo", edits: [] });
  }
  redo() {
    return this.push({ command_id: crypto.randomUUID(), label: "redo", way: "redo", edits: [] });
  }

  /** A write beside the plan, in the same queue: kept until the server has it, sent again under the same id. */
  beside(way: Beside, body: Record<string, unknown> = {}, label: string = way) {
    return this.push({ command_id: crypto.randomUUID(), label, way, edits: [], body });
  }

  /** The build as it would be with these edits, by the same clock; nothing is kept. */
  async tryOut(label: string, edits: Edit[]): Promise<BuildOut | null> {
    const shown = this.shot.build;
    if (!shown) return null;
    const { data } = await api.POST("/api/builds/{build_id}/edits", {
      params: { path: { build_id: this.id } },
      body: {
        base_revision: shown.revision,
        command_id: crypto.randomUUID(),
        label,
        edits,
        dry_run: true,
        times: shown.times,
      },
    });
    return data && this.shot.build === shown ? applyChanged(shown, data) : null;
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

  private push(command: Command): Promise<Outcome> {
    return new Promise((settle) => {
      this.queue.push({ command, settle });
      this.remember();
      void this.work();
    });
  }
  private remember() {
    const unsent: Command[] = this.queue.map((q) => q.command);
    const key = unsentKey(this.id, ownTab());
    if (unsent.length) localStorage.setItem(key, JSON.stringify(unsent));
    else localStorage.removeItem(key);
  }

  private async work() {
    if (this.busy) return;
    this.busy = true;
    this.setSaved("saving");
    while (this.queue.length && this.shot.build) {
      const { command, settle } = this.queue[0]!;
      const outcome = await this.send(command);
      if (outcome === null) {
        this.setSaved("waiting");
        await new Promise((r) => setTimeout(r, RETRY_MS));
        continue;
      }
      this.queue.shift();
      this.remember();
      if (!outcome.ok) this.set({ refused: outcome.why });
      settle(outcome);
    }
    this.busy = false;
    this.setSaved("saved");
  }

  /** null: no answer, try again. */
  private async sendBeside(command: Command, way: Beside): Promise<Outcome | null> {
    try {
      const answer = await api.POST(`/api/builds/{build_id}/sittings/${way}`, {
        params: { path: { build_id: this.id } },
        body: { ...command.body, command_id: command.command_id } as never,
      });
      if (answer.data) return { ok: true, shown: answer.data };
      if (answer.response.status >= 500) return null;
      return { ok: false, why: plainWords((answer.error as { problems?: Problem[] }).problems) };
    } catch {
      return null;
    }
  }

  /** null: no answer, try again. */
  private async send(command: Command): Promise<Outcome | null> {
    if (command.way !== "edits" && command.way !== "undo" && command.way !== "redo")
      return this.sendBeside(command, command.way);
    for (;;) {
      const build = this.shot.build!;
      const params = { path: { build_id: this.id } };
      const ids = { base_revision: build.revision, command_id: command.command_id, times: build.times };
      try {
        const answer =
          command.way === "edits"
            ? await api.POST("/api/builds/{build_id}/edits", {
                params,
                body: {
                  ...ids,
                  label: command.label,
                  edits: command.edits,
                  dry_run: false,
                  near: this.looksAt,
                },
              })
            : await api.POST(`/api/builds/{build_id}/${command.way}`, {
                params,
                body: { ...ids, last: command.way === "undo" && this.lastOfAll },
              });
        if (answer.data) {
          // A command whose first answer was lost is answered with the whole build.
          const told: Changed | BuildOut = answer.data;
          this.lastOfAll = false;
          this.set({ build: isWhole(told) ? told : applyChanged(build, told), preview: null, refused: null });
          if (!isWhole(told) && told.partial) void this.rest();
          return { ok: true };
        }
        if (answer.response.status === 409) {
          const now = answer.error as BuildOut;
          this.set({ build: now }); // somebody else's edit came first: take it, then ours
          if (command.way === "edits" || (command.way === "undo" && now.history.own && !this.lastOfAll))
            continue;
          // Undo and redo are never turned on what somebody else did: that is looked at first.
          const last = command.way === "undo" ? now.history.undo : now.history.redo;
          const what = last
            ? `the last change is now “${last}”; press again to ${command.way} it`
            : "look at it first";
          return { ok: false, why: `another window changed the build in between: ${what}` };
        }
        if (answer.response.status >= 500) return null;
        const problems = (answer.error as { problems?: Problem[] }).problems;
        this.lastOfAll = problems?.[0]?.where === "undo";
        return { ok: false, why: plainWords(problems) };
      } catch {
        return null;
      }
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
